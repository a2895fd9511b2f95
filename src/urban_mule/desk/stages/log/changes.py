"""Changes: a ladder of what each change bought between the measurements before and after it, and what it cost."""

from __future__ import annotations

from PyQt6.QtWidgets import QScrollArea, QVBoxLayout, QWidget

from urban_mule.core.sheet.units import number_text, show
from urban_mule.desk.kit.picture import Picture
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.stages.log.change_bars import ChangeBar, ChangeBars
from urban_mule.store.bought import Bought, ladder_of_changes

NOTHING = "Measure, change one thing, write it down as repaired or set, and measure the same again."
TOGETHER = "together; one change at a time would tell which it was"


class ChangesPicture(Picture):
    """A rung for each change; reading the sets anew is done in the background."""

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        self.listed = ChangeBars()
        area = QScrollArea(widgetResizable=True, accessibleName="What each change bought, and what it cost")
        area.setFrameShape(QScrollArea.Shape.NoFrame)
        area.setWidget(self.listed)
        box.addWidget(area)
        self.rungs: list[Bought] = []
        self._sought = ""
        session.book_changed.connect(self._anew)

    def redraw(self) -> None:
        axis, solution, book = self.state.axis, self.state.solution.own(), list(self.session.entries())
        self.session.works.run(("what changes bought", id(self)), self, lambda _progress: ladder_of_changes(axis, solution, book),
                               self._show)

    def look_for(self, text: str) -> None:
        """Show only the rungs that hold these words."""
        self._sought = text.lower()
        self._show(self.rungs)

    def _show(self, found: list[Bought]) -> None:
        self.rungs = found
        rows = [self._row(one) for one in reversed(found)]
        self.listed.show_bars([one for one in rows if self._sought in f"{one.what} {one.measured} {one.bought}".lower()])
        self.said_anew.emit()

    def says(self) -> tuple[str, str] | None:
        """What bought the most, and what was dear for what it gave."""
        if not self.rungs:
            return "No change lies between two measurements yet.", NOTHING
        best = max(self.rungs, key=lambda one: one.share or 0.0)
        priced = [one for one in self.rungs if one.cost is not None and (one.share or 0) > 0]
        dearest = max(priced, key=lambda one: (one.cost or 0) / (one.share or 1), default=None)
        said = f"{number_text(100 * (best.share or 0.0), 2)} % of the {best.words} went with: {self._what(best)}."
        return said, f"Dearest for what it gave: {self._what(dearest)}." if dearest is not None and len(priced) > 1 else ""

    @staticmethod
    def _what(one: Bought) -> str:
        """What was done between the two measurements."""
        more = f" and {len(one.changes) - 3} more" if len(one.changes) > 3 else ""
        return f"{'; '.join(change.rstrip('.') for change in one.changes[:3])}{more}"

    def _row(self, one: Bought) -> ChangeBar:
        share = one.share
        grew = share is not None and share < 0
        bought = "" if share is None else f"nothing: it grew by {-100 * share:.0f} %" if grew else f"{100 * share:.0f} % of it went"
        said = f"{bought}, {TOGETHER}" if len(one.changes) > 1 else bought
        return ChangeBar(self._what(one), f"{one.words}: {self._text(one, one.before)} → {self._text(one, one.after)}",
                         None if share is None else 1 - share, said, one.cost,
                         "" if one.cost is None else number_text(one.cost, 6))

    def _text(self, one: Bought, value: float) -> str:
        if one.quantity == "scale_ratio":
            return f"{100 * value:.3f} %"
        sheet = self.state.sheet
        return str(show(value, sheet.unit(one.quantity), self.state.system, 3, own=sheet.shown(one.quantity)))
