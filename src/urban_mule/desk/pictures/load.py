"""Load: the train drawn as a chain from motor to load, each link a place to click; beneath it where the torque goes."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPainterPath

from urban_mule.core.sheet import NotKnown
from urban_mule.core.torque_shares import torque_shares
from urban_mule.core.train import gains_in_front
from urban_mule.core.units import number_text, show
from urban_mule.desk.pictures.picture import Painted
from urban_mule.desk.session import Session
from urban_mule.desk.theme import font, theme

SHARE_COLORS = {"rotor": "ink", "train": "violet", "load": "blue", "friction": "tight", "gravity": "short", "work": "good"}
LARGEST_PART, LEAST_PART = 0.075, 22.0  # m that fill the height of the chain; px that stay visible


class LoadPicture(Painted):
    """The chain. Left and Right choose a link, which then shows its fields; `chosen` says which, -1 for the load."""

    needs = frozenset({"train", "cycle_torque", "moved_inertia", "top_speed", "motor_count", "incline", "moving_mass"})
    chosen = pyqtSignal(int)

    def __init__(self, session: Session, parent: Any = None) -> None:
        super().__init__(session, parent)
        self.link = -1
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._describe()
        session.axis_changed.connect(lambda: self.choose(-1))

    def _describe(self) -> None:
        links = ["motor", *(stage.kind for stage in self.stages()), "load"]
        here = "load" if self.link < 0 else self.stages()[self.link].kind
        self.setAccessibleName(f"Chain: {', '.join(links)}. Chosen: {here}. Left and Right choose another link.")

    def stages(self) -> tuple[Any, ...]:
        return self.session.axis.train or ()

    def choose(self, link: int) -> None:
        """Choose a link by its place in the train, -1 for the load."""
        self.link = link if -1 <= link < len(self.stages()) else -1
        self._describe()
        self.update()
        self.chosen.emit(self.link)

    def spots(self, area: QRectF) -> list[QRectF]:
        """Where motor, links and load are drawn."""
        count = len(self.stages()) + 2
        width = min(210.0, area.width() / count)
        left = area.center().x() - width * count / 2
        return [QRectF(left + width * i, area.top(), width, area.height() * 0.68) for i in range(count)]

    def paint(self, painter: QPainter, area: QRectF) -> None:
        spots = self.spots(area)
        axle = spots[0].top() + spots[0].height() * 0.46
        painter.setPen(theme.pen("muted", 3))
        painter.drawLine(QPointF(spots[0].center().x(), axle), QPointF(spots[-1].center().x(), axle))
        self._motor(painter, spots[0], axle)
        for index, (stage, spot) in enumerate(zip(self.stages(), spots[1:], strict=False)):
            self._link(painter, stage, index, spot, axle)
        self._load(painter, spots[-1], axle)
        chosen = spots[-1] if self.link < 0 else spots[self.link + 1]
        painter.setPen(theme.pen("accent", 3))
        painter.drawLine(QPointF(chosen.left() + 18, chosen.bottom()), QPointF(chosen.right() - 18, chosen.bottom()))
        self._shares(painter, QRectF(area.left(), area.top() + area.height() * 0.75, area.width(), area.height() * 0.25))

    def _words(self, painter: QPainter, spot: QRectF, title: str, *lines: str, strong: bool = False) -> None:
        painter.setFont(font(13, bold=True))
        painter.setPen(theme.color("accent" if strong else "ink"))
        painter.drawText(QRectF(spot.left(), spot.bottom() - 58, spot.width(), 18), Qt.AlignmentFlag.AlignCenter, title)
        painter.setFont(font(12))
        painter.setPen(theme.color("muted"))
        for row, text in enumerate(lines):
            painter.drawText(QRectF(spot.left(), spot.bottom() - 40 + 17 * row, spot.width(), 17),
                             Qt.AlignmentFlag.AlignCenter, text)

    def _motor(self, painter: QPainter, spot: QRectF, axle: float) -> None:
        count = int(self.session.axis.motor_count or 1)
        size = 0.057 * spot.height() * 0.5 / LARGEST_PART
        for k in range(min(count, 2)):
            shift = 10.0 * k
            body = QRectF(spot.center().x() - size / 2 - shift, axle - size / 2 - shift, size, size)
            painter.setPen(theme.pen("ink", 1.6))
            painter.setBrush(theme.color("terrain"))
            painter.drawRoundedRect(body, 4, 4)
            painter.drawLine(QPointF(body.left() + 14, body.top()), QPointF(body.left() + 14, body.bottom()))
            painter.drawLine(QPointF(body.right() - 10, body.top()), QPointF(body.right() - 10, body.bottom()))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        solution = self.session.solution
        speed, torque = solution.get("peak_speed"), solution.get("peak_torque")
        self._words(
            painter, spot, "motor" if count == 1 else f"{count} motors",
            f"{number_text(speed * 60 / (2 * math.pi), 3)} rpm" if speed is not None else "speed not known",
            f"{number_text(torque, 3)} N·m at worst" if torque is not None else "torque not known")

    def _link(self, painter: QPainter, stage: Any, index: int, spot: QRectF, axle: float) -> None:
        middle = QPointF(spot.center().x(), axle)
        scale = spot.height() * 0.5 / LARGEST_PART
        painter.setPen(theme.pen("ink", 1.6))
        painter.setBrush(theme.color("panel"))
        draw = getattr(self, f"_draw_{stage.kind}")
        draw(painter, stage, middle, spot, scale)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        self._words(painter, spot, stage.kind, *self._facts(stage, index), strong=index == self.link)

    def _facts(self, stage: Any, index: int) -> tuple[str, str]:
        """Size of a link in a few words, and how fast its input turns."""
        system = self.session.system

        def length(value: float | None) -> str:
            return "?" if value is None else str(show(value, "lead", "m", system))

        facts = {
            "reduction": lambda: f"{stage.ratio:g} to 1" if stage.ratio else "ratio ?",
            "screw": lambda: f"lead {length(stage.lead)}",
            "belt": lambda: f"{stage.teeth or '?'} teeth × {length(stage.pitch)}",
            "rack": lambda: f"{stage.teeth or '?'} teeth, module {length(stage.module)}",
        }
        try:
            front = gains_in_front(self.session.solution["train"])[index]
            speed = f"{number_text(self.session.solution['peak_speed'] * front * 60 / (2 * math.pi), 3)} rpm"
        except NotKnown:
            speed = ""
        return facts.get(stage.kind, lambda: "")() or speed, speed if stage.kind in facts else ""

    def _draw_coupling(self, painter: QPainter, _stage: Any, middle: QPointF, _spot: QRectF, _scale: float) -> None:
        for side in (-1, 1):
            painter.drawRect(QRectF(middle.x() + (2 if side > 0 else -18), middle.y() - 14, 16, 28))
        painter.drawLine(QPointF(middle.x(), middle.y() - 11), QPointF(middle.x(), middle.y() + 11))

    def _draw_reduction(self, painter: QPainter, stage: Any, middle: QPointF, spot: QRectF, _scale: float) -> None:
        ratio = min(6.0, max(1 / 6, stage.ratio or 1.0))
        large = spot.height() * 0.26
        first, second = (large / ratio, large) if ratio > 1 else (large, large * ratio)
        a, b = QPointF(middle.x() - first - 8, middle.y()), QPointF(middle.x() + second + 4, middle.y())
        painter.drawEllipse(a, first, first)
        painter.drawEllipse(b, second, second)
        painter.drawLine(a + QPointF(0, -first), b + QPointF(0, -second))
        painter.drawLine(a + QPointF(0, first), b + QPointF(0, second))
        for centre in (a, b):
            painter.drawEllipse(centre, 2.5, 2.5)

    def _draw_screw(self, painter: QPainter, stage: Any, middle: QPointF, spot: QRectF, scale: float) -> None:
        high = max(10.0, (stage.diameter or 0.012) * scale * 2)
        rod = QRectF(spot.left() + 12, middle.y() - high / 2, spot.width() - 24, high)
        painter.drawRect(rod)
        step = max(5.0, min(24.0, (stage.lead or 0.01) * scale))
        x = rod.left()
        while x < rod.right() - 4:
            painter.drawLine(QPointF(x, rod.bottom()), QPointF(min(x + 4, rod.right()), rod.top()))
            x += step
        painter.setBrush(theme.color("terrain"))
        painter.drawRect(QRectF(middle.x() - 15, middle.y() - high / 2 - 8, 30, high + 16))

    def _draw_belt(self, painter: QPainter, stage: Any, middle: QPointF, spot: QRectF, scale: float) -> None:
        real = (stage.pitch or 0.003) * (stage.teeth or 20) / (2 * math.pi)
        radius = min(spot.height() * 0.28, max(LEAST_PART / 2, real * scale))
        a = QPointF(spot.left() + radius + 12, middle.y())
        b = QPointF(spot.right() - radius - 12, middle.y())
        loop = QPainterPath()
        loop.addRoundedRect(QRectF(a.x() - radius, middle.y() - radius, b.x() - a.x() + 2 * radius, 2 * radius), radius, radius)
        painter.drawPath(loop)
        for centre in (a, b):
            painter.drawEllipse(centre, radius - 4, radius - 4)
            painter.drawEllipse(centre, 2.5, 2.5)
        painter.setBrush(theme.color("terrain"))
        painter.drawRect(QRectF(middle.x() - 14, middle.y() - radius - 12, 28, 12))

    def _draw_rack(self, painter: QPainter, stage: Any, middle: QPointF, spot: QRectF, scale: float) -> None:
        radius = min(spot.height() * 0.25, max(LEAST_PART / 2, (stage.module or 0.001) * (stage.teeth or 20) / 2 * scale * 2))
        painter.drawEllipse(middle, radius, radius)
        painter.drawEllipse(middle, 3, 3)
        path = QPainterPath(QPointF(spot.left() + 10, middle.y() + radius + 6))
        x, up = spot.left() + 10, True
        while x < spot.right() - 10:
            x += 6
            path.lineTo(x, middle.y() + radius + (0 if up else 6))
            up = not up
        path.lineTo(x, middle.y() + radius + 14)
        path.lineTo(spot.left() + 10, middle.y() + radius + 14)
        path.closeSubpath()
        painter.drawPath(path)

    def _draw_direct(self, painter: QPainter, _stage: Any, middle: QPointF, _spot: QRectF, _scale: float) -> None:
        painter.drawRect(QRectF(middle.x() - 24, middle.y() - 5, 48, 10))

    def _load(self, painter: QPainter, spot: QRectF, axle: float) -> None:
        axis, solution = self.session.axis, self.session.solution
        middle = QPointF(spot.center().x(), axle)
        painter.setPen(theme.pen("ink", 1.6))
        painter.setBrush(theme.color("terrain"))
        if axis.motion == "rotary":
            painter.drawEllipse(middle, 40, 40)
            painter.drawEllipse(middle, 4, 4)
            value = axis.load_inertia
            fact = "inertia not known" if value is None else str(show(value, "load_inertia", "kg·m²", self.session.system))
        else:
            painter.save()
            painter.translate(middle)
            painter.rotate(-math.degrees(axis.incline or 0.0))
            painter.drawRect(QRectF(-38, -26, 76, 40))
            painter.setPen(theme.pen("muted", 1.4))
            painter.drawLine(QPointF(-60, 18), QPointF(60, 18))
            painter.restore()
            value = axis.moving_mass
            fact = "mass not known" if value is None else str(show(value, "moving_mass", "kg", self.session.system))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        speed = solution.get("top_speed")
        shown = "" if speed is None else str(show(speed, "top_speed", solution.sheet.unit("top_speed"), self.session.system))
        self._words(painter, spot, "load", fact, shown, strong=self.link < 0)

    def _shares(self, painter: QPainter, area: QRectF) -> None:
        try:
            shares = torque_shares(self.session.solution)
        except NotKnown as why:
            painter.setFont(font(13))
            painter.setPen(theme.color("muted"))
            painter.drawText(area, Qt.AlignmentFlag.AlignCenter, f"Where the torque goes: {why}.")
            return
        total = sum(abs(value) for value in shares.values()) or 1.0
        painter.setFont(font(12))
        painter.setPen(theme.color("muted"))
        painter.drawText(QRectF(area.left(), area.top(), 400, 18), Qt.AlignmentFlag.AlignVCenter,
                         f"Where the torque goes at the hardest moment, {number_text(sum(shares.values()), 3)} N·m")
        x = area.left()
        for name, value in shares.items():
            wide = area.width() * abs(value) / total
            if wide < 1:
                continue
            bar = QRectF(x, area.top() + 22, wide - 2, 18)
            painter.fillRect(bar, theme.color(SHARE_COLORS[name]))
            if wide > 46:
                painter.setPen(theme.color("ink"))
                text = f"{name} {number_text(value, 2)}" if wide > 84 else name
                painter.drawText(QRectF(x, bar.bottom() + 3, max(wide, 60), 18), Qt.AlignmentFlag.AlignLeft, text)
            x += wide

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        self.setFocus()
        spots = self.spots(QRectF(self.rect()).adjusted(16, 12, -16, -12))
        for index, spot in enumerate(spots):
            if spot.left() <= event.position().x() < spot.right() and event.position().y() < spot.bottom() + 8:
                self.choose(-1 if index in (0, len(spots) - 1) else index - 1)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key())) if event is not None else None
        if step is None:
            super().keyPressEvent(event)
            return
        order = [*range(len(self.stages())), -1]
        self.choose(order[int(np.clip(order.index(self.link) + step, 0, len(order) - 1))])
