"""Standstill: what pushes the idle axis off, how far it gives way, and its heat, over the share of the current while idle."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter, QPolygonF

from urban_mule.core.drive.standstill import lean_shift
from urban_mule.core.motor.heat import steady_rise
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.units import factor as unit_factor
from urban_mule.core.sheet.units import show, unit_shown
from urban_mule.desk.kit.chart import ceiling
from urban_mule.desk.kit.painting import CENTRE, RIGHT, say, say_lines
from urban_mule.desk.kit.picture import Painted
from urban_mule.desk.kit.theme import theme

SHARES = np.linspace(0.02, 1.0, 99)
NAMES, NUMBERS = 168.0, 120.0  # px left and right of the strips


class StandstillPicture(Painted):
    """Three strips over one share of the current, the set one and the one that would hold marked through all of them."""

    def paint(self, painter: QPainter, area: QRectF) -> None:
        solution = self.state.solution
        held = solution.get("holding_force")
        self.setAccessibleName("Standstill: force, shift and heat over the idle current")
        if self.state.axis.motor_kind == "servo":
            say_lines(
                painter,
                area,
                "A servo holds by its position loop with what current it needs; nothing is cut while it is idle.",
                "muted",
                15,
            )
            return
        if held is None:
            say_lines(painter, area, "Nothing to draw yet: " + self.state.reason_unknown("holding_force") + ".", "muted", 15)
            return
        now, needed = float(solution["hold_fraction"]), solution.get("hold_fraction_needed")
        strips = [strip for strip in (self._force(float(held), now), self._shift(), self._heat()) if strip is not None]
        high = (area.height() - 44) / 3
        left, right = area.left() + NAMES, area.right() - NUMBERS

        def x(share: float) -> float:
            return left + (right - left) * share

        foot = area.top() + 20 + high * len(strips)
        for share in (0.0, 0.25, 0.5, 0.75, 1.0):
            say(painter, QRectF(x(share) - 30, foot - 6, 60, 16), f"{100 * share:.0f} %", "muted", align=CENTRE)
        say(painter, QRectF(area.left(), foot - 6, NAMES - 40, 16), "of the current while idle", "muted")
        self._mark(painter, x(now), area.top(), foot - 8, f"set {100 * now:.0f} %", "accent", True)
        if needed is not None:
            near = abs(x(float(needed)) - x(now)) < 150
            self._mark(
                painter,
                x(float(needed)),
                area.top(),
                foot - 8,
                f"{100 * float(needed):.0f} % would hold it",
                "good",
                False,
                -1 if near and needed < now else 1,
            )
        for row, (title, curve, unit, value, bound) in enumerate(strips):  # over the strokes, so that their words stay clear
            strip = QRectF(left, area.top() + 20 + high * row, right - left, high - 10)
            self._strip(painter, strip, title, curve, unit, value, bound)

    @staticmethod
    def _mark(painter: QPainter, x: float, top: float, bottom: float, text: str, color: str, bold: bool, side: int = 1) -> None:
        painter.setPen(theme.pen(color, 2.0 if bold else 1.4))
        painter.drawLine(QPointF(x, top + 18), QPointF(x, bottom))
        place = QRectF(x + 4, top, 200, 18) if side > 0 else QRectF(x - 204, top, 200, 18)
        say(painter, place, text, color, 13, bold=bold, align=RIGHT if side < 0 else CENTRE.AlignLeft)

    def _shown(self, name: str) -> tuple[str, float]:
        """Unit in which a quantity is shown, and what one of it is in SI."""
        unit = self.state.sheet.unit(name)
        chosen = unit_shown(unit, self.state.system, self.state.sheet.shown(name))
        return chosen, unit_factor(chosen, unit)

    def _force(self, held: float, now: float) -> tuple[str, np.ndarray, str, str, float | None]:
        unit, size = self._shown("holding_force")
        lean, system = self.state.solution.get("lean_force"), self.state.system
        full = held / now if now else 0.0
        return (
            "Holding force",
            SHARES * full / size,
            unit,
            str(show(held, self.state.sheet.unit("holding_force"), system, 3)),
            None if lean is None else float(lean) / size,
        )

    def _shift(self) -> tuple[str, np.ndarray, str, str, float | None] | None:
        solution = self.state.solution
        names = ("lean_force", "gravity_load", "travel_per_radian", "rotor_teeth", "motor_count")
        given = {name: solution.get(name) for name in names}
        if any(value is None for value in given.values()):
            return None
        unit, size = self._shown("lean_shift")
        try:
            curve = lean_shift(
                **given, hold_fraction=SHARES, set_torque=solution["set_torque"], train_stiffness=solution.get("train_stiffness")
            )
        except NotKnown:
            curve = np.full_like(SHARES, np.nan)
        shift = solution.get("lean_shift")
        said = (
            "pushed off"
            if shift is None
            else str(
                show(
                    float(shift),
                    self.state.sheet.unit("lean_shift"),
                    self.state.system,
                    3,
                    own=self.state.sheet.shown("lean_shift"),
                )
            )
        )
        return "Displacement", np.asarray(curve, float) / size, unit, said, None

    def _heat(self) -> tuple[str, np.ndarray, str, str, float | None] | None:
        solution = self.state.solution
        loss, resistance = solution.get("copper_loss"), solution.get("thermal_resistance")
        if loss is None or resistance is None:
            return None
        ambient = float(solution["ambient_temperature"])
        rises: Callable[[np.ndarray], object] = lambda share: steady_rise(loss * share**2, resistance, ambient)  # noqa: E731
        now = solution.get("holding_temperature_rise")
        return (
            "Winding, holding",
            ambient + np.asarray(rises(SHARES), float),
            "°C",
            "runs away" if now is None else f"{ambient + float(now):.0f} °C",
            None,
        )

    @staticmethod
    def _strip(painter: QPainter, area: QRectF, title: str, curve: np.ndarray, unit: str, value: str, bound: float | None) -> None:
        """One curve over the share; bound: what pushes, as a dashed line."""
        finite = curve[np.isfinite(curve)]
        top = ceiling(1.05 * max([float(np.max(finite)) if finite.size else 1.0] + ([bound] if bound else [])))
        top = min(top, ceiling(8 * float(np.median(finite)))) if finite.size and "way" in title else top
        painter.fillRect(QRectF(area.left(), area.bottom(), area.width(), 1), theme.color("line"))
        say(painter, QRectF(area.left() - NAMES, area.top() + 2, NAMES - 12, 18), title, size=13)
        say(painter, QRectF(area.left() - NAMES, area.top() + 20, NAMES - 12, 16), f"up to {top:g} {unit}", "muted")
        say(painter, QRectF(area.right() + 12, area.top() + 4, NUMBERS - 12, 24), value, "accent", 17, bold=True)
        points = [
            QPointF(area.left() + area.width() * share, area.bottom() - area.height() * min(y / top, 1.0))
            for share, y in zip(SHARES.tolist(), curve.tolist(), strict=True)
            if np.isfinite(y)
        ]
        if len(points) < curve.size:
            off = points[0].x() if points else area.right()
            painter.fillRect(QRectF(area.left(), area.top(), off - area.left(), area.height()), theme.color("terrain"))
            say(painter, QRectF(area.left() + 6, area.top() + 2, max(1.0, off - area.left() - 8), 16), "pushed off", "short")
        if bound is not None:
            y = area.bottom() - area.height() * bound / top
            painter.setPen(theme.pen("tight", 1.2))
            painter.drawLine(QPointF(area.left(), y), QPointF(area.right(), y))
        painter.setPen(theme.pen("blue", 2.2))
        painter.drawPolyline(QPolygonF(points))
        if bound is not None:
            y = area.bottom() - area.height() * bound / top
            say(painter, QRectF(area.right() - 160, y - 17, 156, 16), f"push {bound:.3g} {unit}", "tight", align=RIGHT,
                clear=True)
