"""Shapers: what each kind leaves against what it allows, at every frequency; the chosen point moves by hand and by key."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPixmap, QPolygonF, QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from urban_mule.core.readings.shapers import KINDS, TWO_MODES
from urban_mule.core.ring.tuned import MOST_LEFT, trade
from urban_mule.core.sheet.units import number_text
from urban_mule.core.sheet.wording import size
from urban_mule.desk.kit.label_places import label_moves
from urban_mule.desk.kit.painting import LEFT, RIGHT, on_paper, paper, say
from urban_mule.desk.kit.picture import Painted, Picture, round_step
from urban_mule.desk.kit.table import Table
from urban_mule.desk.kit.theme import theme
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.model.travel_units import drawn_in
from urban_mule.desk.stages.ring.picture import SHAPER_COLORS

UNDER_TITLE = 36.0  # px down to which the name of the upright scale stands
SHOWN = 2.6  # times the fastest tuned shaper, or the cycle, that the picture reaches
WHOLE, LEAST_BESIDE = 800, 600  # px from which on all of the rows stand beside the curves, and any
BESIDE, NARROW = 476, 240  # px of the rows, whole and in little room
IN_LITTLE_ROOM_LEFT_OUT = (1, 2, 3, 6)  # columns that the curves say too
ASKED = "the cycle asks for"
FINE, COARSE = 0.1, 1.0  # Hz a press of a key


class TradeCurves(Painted):
    """Surviving vibration over allowed acceleration; drag the ring along the curves, or Left and Right, Up and Down."""

    natural = (420.0, 220.0)

    needs = frozenset({"modes", "path_tolerance", "top_acceleration", "shaper_kind", "shaper_frequency"})

    def __init__(self, session: Scope, parent: Any = None) -> None:
        super().__init__(session, parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.curves: dict[str, tuple[np.ndarray, np.ndarray, np.ndarray]] = {}
        self._curves_of: tuple[Any, Any] = (None, None)  # modes and tolerance of the curves
        self._drawn: tuple[Any, QPixmap] | None = None  # the curves as they were painted last, and of what
        self.moved: tuple[str, float] | None = None  # the point while it is dragged
        self.top, self.most = 1.0, 1.0

    def redraw(self) -> None:
        get = self.state.solution.get
        modes, tolerance = get("modes"), get("path_tolerance")
        if (modes, tolerance) != self._curves_of:
            self.curves = trade(modes, float(tolerance)) if modes and tolerance else {}
            self._curves_of = (modes, tolerance)
        self.moved = None
        if self.curves:
            tuned = max(float(one["allowed_acceleration"]) for one in get("tuned_shapers"))
            self.top = 1.08 * max(tuned, float(get("top_acceleration") or 0.0), 1e-9)
            self.most = max(0.2, min(1.0, 1.25 * max(float(share.min()) for _, share, _ in self.curves.values())))
        self._describe()
        super().redraw()

    @property
    def point(self) -> tuple[str, float] | None:
        """Kind and frequency of the chosen shaper, or of where it is dragged just now."""
        chosen = self.state.solution.get("chosen_shaper")
        return self.moved or (None if chosen is None else (chosen["name"], float(chosen["frequency"])))

    def reading(self) -> str:
        """What the chosen point leaves and allows, in words."""
        point = self.point
        if point is None or not self.curves:
            return ""
        share, allowed = self._at(*point) if point[0] in self.curves else self._of_chosen()
        scale, unit = self._unit()
        return f"{point[0]} at {point[1]:.1f} Hz leaves {100 * share:.1f} % and allows {size(allowed * scale)} {unit}"

    def _describe(self) -> None:
        self.setAccessibleName(f"Surviving vibration over allowed acceleration. {self.reading()}".strip(" ."))

    def _unit(self) -> tuple[float, str]:
        return drawn_in(self.state, "[travel]/s²")

    def _at(self, kind: str, frequency: float) -> tuple[float, float]:
        """Surviving share and allowed acceleration there."""
        frequencies, share, allowed = self.curves[kind]
        return float(np.interp(frequency, frequencies, share)), float(np.interp(frequency, frequencies, allowed))

    def _of_chosen(self) -> tuple[float, float]:
        """The same of a shaper that has no curve of its own."""
        chosen = self.state.solution["chosen_shaper"]
        return float(chosen["surviving_share"]), float(chosen["allowed_acceleration"])

    def _plot(self) -> QRectF:
        return paper(self).adjusted(64, 34, -24, -44)

    def _place(self, share: Any, allowed: Any) -> tuple[Any, Any]:
        plot = self._plot()
        return plot.left() + plot.width() * allowed / self.top, plot.bottom() - plot.height() * share / self.most

    def paint(self, painter: QPainter, area: QRectF) -> None:
        if not self.curves:
            say(painter, area, f"No shapers yet: {self.state.reason_unknown('modes')}.", "muted", 15)
            return
        plot = self._plot()
        self._axes(painter, plot)
        painter.drawPixmap(0, 0, self._painted_curves(plot))
        tuned = {one["name"]: one for one in self.state.solution["tuned_shapers"]}
        labels = []
        for kind, one in tuned.items():
            x, y = self._place(float(one["surviving_share"]), float(one["allowed_acceleration"]))
            painter.setBrush(theme.color(SHAPER_COLORS[kind]))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.drawEllipse(QPointF(x, y), 4, 4)
            words = f"{kind}, {one['frequency']:.1f} Hz"
            labels.append((SHAPER_COLORS[kind], words, QRectF(x + 8, y + 3, 7.2 * len(words), 16)))
        asked = self.state.solution.get("top_acceleration")
        if asked is not None:
            x, _ = self._place(0.0, float(asked))
            labels.append(("ink", ASKED, QRectF(x - 128 if x > plot.center().x() else x + 6, plot.top(), 122, 16)))
        self._label(painter, labels, plot)
        self._cycle(painter, plot)
        point = self.point
        if point is not None and point[0] in self.curves:
            x, y = self._place(*self._at(*point))
            painter.setPen(theme.pen("accent", 2.4))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(QPointF(x, y), 9, 9)

    def _label(self, painter: QPainter, labels: list[tuple[str, str, QRectF]], plot: QRectF) -> None:
        """The tuned points by name, clear of the curves, of each other and of what the cycle asks for."""
        lines = [np.column_stack(self._place(share, allowed)) for _, share, allowed in self.curves.values()]
        asked = self.state.solution.get("top_acceleration")
        if asked:
            x, _ = self._place(0.0, float(asked))
            lines.append(np.array([[x, plot.top()], [x, plot.bottom()]]))
        moves = label_moves([(box.left(), box.top(), box.width(), box.height()) for *_, box in labels], lines, plot.right(),
                            plot.bottom())
        for (color, words, box), (right, down) in zip(labels, moves, strict=True):
            say(painter, box.translated(right, down), words, color, 12)

    def _painted_curves(self, plot: QRectF) -> QPixmap:
        """All curves, painted once: while the point is dragged only the point is painted anew."""
        ratio = self.devicePixelRatioF()
        of = (self._curves_of, self.top, self.most, paper(self).width(), paper(self).height(), ratio, theme.color("ink").rgb())
        if self._drawn is not None and self._drawn[0] == of:
            return self._drawn[1]
        drawn = QPixmap(int(paper(self).width() * ratio), int(paper(self).height() * ratio))
        drawn.setDevicePixelRatio(ratio)
        drawn.fill(Qt.GlobalColor.transparent)
        painter = QPainter(drawn)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setClipRect(plot)
        for kind, (_, share, allowed) in self.curves.items():
            x, y = self._place(share, allowed)
            painter.setPen(theme.pen(SHAPER_COLORS[kind], 1.8))
            painter.drawPolyline(QPolygonF([QPointF(a, b) for a, b in zip(x.tolist(), y.tolist(), strict=True)]))
        painter.end()
        self._drawn = (of, drawn)
        return drawn

    def _axes(self, painter: QPainter, plot: QRectF) -> None:
        scale, unit = self._unit()
        painter.setPen(theme.pen("line"))
        painter.drawLine(plot.bottomLeft(), plot.bottomRight())
        painter.drawLine(plot.bottomLeft(), plot.topLeft())
        step = round_step(self.top * scale, 8)
        for n in range(int(self.top * scale / step) + 1):
            x, _ = self._place(0.0, n * step / scale)
            say(painter, QRectF(x - 30, plot.bottom() + 4, 60, 16), f"{n * step:g}", "muted", align=Qt.AlignmentFlag.AlignHCenter)
        step = round_step(100 * self.most, 5)
        for n in range(int(100 * self.most / step) + 1):
            _, y = self._place(n * step / 100, 0.0)
            if y < UNDER_TITLE:
                continue
            say(painter, QRectF(plot.left() - 48, y - 8, 42, 16), f"{n * step:g} %", "muted", align=RIGHT)
        say(painter, QRectF(plot.left(), plot.bottom() + 22, plot.width(), 16), f"allowed acceleration, {unit}", "muted",
            align=Qt.AlignmentFlag.AlignHCenter)
        say(painter, QRectF(12, 10, 130, 16), "residual vibration", "muted", align=LEFT)
        _, y = self._place(MOST_LEFT, 0.0)
        if self.most > MOST_LEFT:
            painter.setPen(theme.pen("line", 1.0, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(plot.left(), y), QPointF(plot.right(), y))

    def _cycle(self, painter: QPainter, plot: QRectF) -> None:
        top = self.state.solution.get("top_acceleration")
        if top is None:
            return
        x, _ = self._place(0.0, float(top))
        painter.setPen(theme.pen("ink", 1.4, Qt.PenStyle.DashLine))
        painter.drawLine(QPointF(x, plot.top()), QPointF(x, plot.bottom()))

    def _nearest(self, position: QPointF) -> tuple[str, float]:
        """The point of any curve nearest to a place of the picture."""
        best = (np.inf, KINDS[0], 0.0)
        for kind, (frequencies, share, allowed) in self.curves.items():
            x, y = self._place(share, allowed)
            away = (x - position.x()) ** 2 + (y - position.y()) ** 2
            n = int(np.argmin(away))
            best = min(best, (float(away[n]), kind, float(frequencies[n])))
        return best[1], best[2]

    def _move(self, point: tuple[str, float]) -> None:
        self.moved = point
        self._describe()
        self.update()
        self.said_anew.emit()

    def choose(self) -> None:
        """Take the point where it stands."""
        if self.moved is not None:
            kind, frequency = self.moved
            self.session.edit_all([(self.session.axis_path("shaper_kind"), kind),
                                   (self.session.axis_path("shaper_frequency"), round(frequency, 1))],
                                  f"{self.state.axis.name}: {kind} at {frequency:.1f} Hz chosen by hand")

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self.curves:
            self.setFocus()
            self._move(self._nearest(on_paper(self, event.position())))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self.curves and event.buttons() & Qt.MouseButton.LeftButton:
            self._move(self._nearest(on_paper(self, event.position())))

    def mouseReleaseEvent(self, _event: QMouseEvent | None) -> None:
        self.choose()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        point = self.point
        if event is None or point is None or not self.curves:
            super().keyPressEvent(event)
            return
        kind, frequency = point if point[0] in self.curves else (KINDS[0], point[1])
        step = COARSE if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else FINE
        match event.key():
            case Qt.Key.Key_Left | Qt.Key.Key_Right as key:
                low, high = self.curves[kind][0][[0, -1]]
                frequency = float(np.clip(frequency + (step if key == Qt.Key.Key_Right else -step), low, high))
            case Qt.Key.Key_Up | Qt.Key.Key_Down as key:
                place = (KINDS.index(kind) + (1 if key == Qt.Key.Key_Down else -1)) % len(KINDS)
                kind = KINDS[place]
            case Qt.Key.Key_Delete | Qt.Key.Key_Backspace:
                self.session.edit_all([(self.session.axis_path(name), None) for name in ("shaper_kind", "shaper_frequency")],
                                      f"{self.state.axis.name}: the recommended shaper")
                return
            case _:
                super().keyPressEvent(event)
                return
        self._move((kind, frequency))
        self.choose()


class TradePicture(Picture):
    """The curves, and beside them the tuned shapers as rows."""

    needs = TradeCurves.needs | {"tuned_shapers", "chosen_shaper", "two_mode_shaper"}

    def __init__(self, session: Scope, parent: QWidget | None = None) -> None:
        super().__init__(session, parent)
        box = QHBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(8)
        self.curves = TradeCurves(session)
        self.curves.said_anew.connect(self.said_anew)
        heads = ("shaper", "frequency", "left", "at worst", "acceleration", "delay", "")
        self.table = Table("Shapers", heads, 6, (1, 2, 3, 4, 5))
        box.addWidget(self.curves, 1)
        box.addWidget(self.table)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        wide = self.width() >= WHOLE
        for column in IN_LITTLE_ROOM_LEFT_OUT:
            self.table.setColumnHidden(column, not wide)
        self.table.setFixedWidth(BESIDE if wide else NARROW)
        self._show_table()

    def _show_table(self) -> None:
        self.table.setVisible(bool(self.table.source.rows) and self.width() >= LEAST_BESIDE)

    def says(self) -> tuple[str, str] | None:
        """What the chosen shaper leaves and allows."""
        said = self.curves.reading()
        return (f"{said}.", "Drag the ring along the curves, or press the arrow keys: the numbers follow.") if said else None

    def redraw(self) -> None:
        self.curves.bring_up_to_date()
        get = self.state.solution.get
        tuned, chosen, two = get("tuned_shapers") or [], get("chosen_shaper"), get("two_mode_shaper")
        factor, unit = drawn_in(self.state, "[travel]/s²")
        shown = [chosen if chosen is not None and one["name"] == chosen["name"] else one for one in tuned]
        rows = [(one["name"], f"{one['frequency']:.1f} Hz", f"{100 * one['surviving_share']:.1f} %", *_costs(one, factor, unit),
                 "set it" if one is chosen else "") for one in shown]
        if two is not None:
            both = chosen is not None and chosen["name"] == TWO_MODES
            rows.append(("two modes", "", "", *_costs(two, factor, unit), "set it" if both else "if offered"))
        names = [*(one["name"] for one in tuned), TWO_MODES]
        self.table.source.show_rows(rows, names.index(chosen["name"]) if chosen is not None else None)
        self._show_table()
        self.said_anew.emit()


def _costs(one: dict[str, Any], factor: float, unit: str) -> tuple[str, str, str]:
    """What a shaper leaves of the worst mode, allows, and costs in time."""
    return (f"{100 * one['residual']:.0f} %", f"{number_text(one['allowed_acceleration'] * factor, 3)} {unit}",
            f"{1000 * one['times'][-1]:.0f} ms")
