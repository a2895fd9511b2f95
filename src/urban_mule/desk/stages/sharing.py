"""How a stage shares its room out: the picture has its part first, fields and results the width of what is left."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QSizePolicy, QWidget

from urban_mule.desk.kit.lower import BETWEEN, SCROLL
from urban_mule.desk.kit.results import BELOW, GAP, LEAST_TILE, TILE_HEIGHT
from urban_mule.desk.stages.beside import LEAST_COLUMN, LEAST_HIGH, Fields, allot
from urban_mule.desk.stages.field_sets import FieldSets

MOST_BESIDE = 5  # leaves whose words stand beside the line beneath the headline; more have a row of their own
SHARES = ((620, 0.56), (500, 0.51), (0, 0.42))  # px of a stage, and a picture's least share of what is beneath its headline
KNOWN = "What you know"  # the heading of fields that says nothing more, and is left out
NARROW = 760  # px of a stage below which it says less, and the words of its leaves have a row of their own


class SharedOut(FieldSets):
    """A stage as far as it is laid out."""

    headline: QLabel
    caution: QLabel
    left: QWidget
    head: QHBoxLayout
    beneath: QHBoxLayout
    follows_heading: QLabel
    _laid_for = (0, 0)
    _settled: object = None

    def _place_words(self) -> None:
        """The words of the leaves beside the line beneath the headline, or in a row of their own where that would squeeze it."""
        words, own_row = self.leaves.words, len(self.spec.leaves) > MOST_BESIDE or self.width() < NARROW
        if (self.box.indexOf(words) if own_row else self.beneath.indexOf(words)) >= 0:
            return
        for layout in (self.box, self.beneath):
            layout.removeWidget(words)
        across = QSizePolicy.Policy.Preferred if own_row else QSizePolicy.Policy.Fixed  # else the line beside would break it
        words.setSizePolicy(across, QSizePolicy.Policy.Preferred)
        if own_row:
            self.box.insertWidget(self.box.indexOf(self.leaves), words)
        else:
            self.beneath.addWidget(words, 0, Qt.AlignmentFlag.AlignBottom)

    def tools_here(self) -> tuple[QWidget, ...]:
        """What stands beside the heading of the fields."""
        return ()

    def lay(self) -> None:
        """Share the width beneath the picture out to fields and results."""
        if self._fill_right in self._steps:
            return
        fields, results = self.fields_here(), self.results.columns()
        self.left.setVisible(bool(fields or self.least_left) or self._more_at_left())
        self.follows.setVisible(bool(results) and self.round is None)
        says_more = self.know_heading.text() != KNOWN and bool(fields or self.least_left)
        self.know_heading.setVisible(says_more)
        headed = says_more or any(not widget.isHidden() for widget in self.tools_here())
        self.follows_heading.setVisible(headed and self.width() >= NARROW)
        self._share_out()
        self._laid_for = self._room()
        width = self.below.width() - (SCROLL if self.below.overflows() else 0)
        above = bool(self.least_left and results) and self.least_left + BETWEEN + LEAST_TILE > width
        self.below.row.setDirection(QHBoxLayout.Direction.BottomToTop if above else QHBoxLayout.Direction.LeftToRight)
        if above:
            columns = 0, max(1, width // (LEAST_TILE + GAP)), min(1, self._rows_that_fit())
        elif self.least_left and results:
            beside = max(1, (width - self.least_left) // (LEAST_TILE + GAP))
            columns = 0, beside, min(self._rows_that_fit(), max(LEAST_HIGH, -(-results // beside)))
        else:
            between = BETWEEN if fields and results else 0
            columns = allot(width - between, fields, results, self._rows_that_fit(), self.head.minimumSize().width())
        parts = columns[0] * LEAST_COLUMN or self.least_left, columns[1] * LEAST_TILE
        if columns[0]:
            self.fields.lay(columns[0], (width - (BETWEEN if columns[1] else 0)) * parts[0] // sum(parts))
        if columns[1]:
            self.results.lay(*columns[1:])
        now = columns, self.shown_set, len(self.fields.fields), self.results.laid, self.left.isHidden(), self.follows.isHidden(), (
            self.know_heading.isHidden(), self.follows_heading.isHidden(), self.below.width())
        if not self._steps and now != self._settled:
            self._settled = now
            for side, part in zip((self.left, self.follows), parts, strict=True):
                self.below.row.setStretchFactor(side, part)
            self._settle()

    def _room(self) -> tuple[int, int]:
        """What the lower part is laid out for: how wide it is, and how many rows are seen."""
        return self.below.width(), self._rows_that_fit()

    def _rows_that_fit(self) -> int:
        """How many rows of results are seen beneath the picture without scrolling, where it has its share."""
        margins = self.box.contentsMargins()
        taken, parts, wide = self.leaves.minimumHeight(), 1, self.width() - margins.left() - margins.right()
        for n in range(self.box.count()):
            item = self.box.itemAt(n)
            if item is None or item.isEmpty() or item.widget() in (self.leaves, self.below):
                continue
            high = item.heightForWidth(wide) if item.hasHeightForWidth() else item.sizeHint().height()
            taken, parts = taken + high, parts + 1
        room = self.height() - taken - parts * self.box.spacing() - margins.top() - margins.bottom()
        heading = self.follows_heading.sizeHint().height() if not self.follows_heading.isHidden() else 0
        return max(0, (room - heading + BELOW) // (TILE_HEIGHT + BELOW))

    def _settle(self) -> None:
        """Have everything in its place now, from the inside out, where Qt would take a turn of the event loop for each layer."""
        follows = self.follows.layout()
        for layout in (self.fields.grid, self.results.grid, self.know, follows, self.below.row):
            if layout is not None:
                layout.activate()
        self.below.follow()
        self.box.activate()

    def _share_out(self) -> None:
        """Give the picture its share of what is between headline and caution; the rest, where it is more, scrolls beneath it."""
        caution = 0 if self.caution.isHidden() else self.caution.heightForWidth(self.width()) + self.box.spacing()
        room = self.height() - self.headline.geometry().bottom() - caution - self.box.contentsMargins().bottom()
        least = max(0, int(room * next(share for high, share in SHARES if self.height() >= high)))
        for picture in (self.leaves, self.setup):
            if picture is not None and picture.minimumHeight() != least:
                picture.setMinimumHeight(least)

    def _more_at_left(self) -> bool:
        """Whether anything stands at the left that is no grid of fields and no mere heading."""
        items = [item for n in range(self.know.count()) if (item := self.know.itemAt(n)) is not None and item is not self.head]
        return any(item.layout() is not None or ((widget := item.widget()) is not None and not isinstance(widget, Fields)
                                                 and not widget.isHidden()) for item in items) or any(
            not widget.isHidden() for widget in self.tools_here())

    def event(self, event: QEvent | None) -> bool:
        done = super().event(event)
        if event is not None and event.type() == QEvent.Type.LayoutRequest and not self._steps:
            self._share_out()
            if self._laid_for != self._room():
                self.lay()
        return done
