"""Supply: power of all axes by both schools as stacks, the bus when all stop at once, and the share of the circuit."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter

from urban_mule.core.drive.together import AxisTogether, balance_of, least_limit, on_supply, phases_of
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.units import number_text
from urban_mule.desk.kit.chart import ceiling
from urban_mule.desk.kit.painting import CENTRE, LEFT, RIGHT, say, say_heading, say_lines
from urban_mule.desk.kit.picture import Painted
from urban_mule.desk.kit.theme import theme

SHADES = ("blue", "violet", "good", "tight", "muted", "ink")
AT_ONCE = "at once"
NAMES, BAR = 132.0, 16.0
LINE = 16.0  # px in height of a line of words; with less room they are left out


class SupplyPicture(Painted):
    """What hangs on the supply, and what the supply hangs on."""

    def paint(self, painter: QPainter, area: QRectF) -> None:
        together = self.session.together
        axes = on_supply(together["axes_together"], together.get("supply_voltage"))
        needed = together.get("supply_power_needed")
        said = "" if needed is None else f": {number_text(float(needed), 3)} W recommended"
        self.setAccessibleName(f"Supply of all axes{said}")
        high = area.height() / 2
        self._power(painter, together, axes, QRectF(area.left(), area.top(), area.width(), high - 8))
        half = area.width() * 0.56
        self._bus(painter, together, QRectF(area.left(), area.top() + high, half, high))
        self._mains(painter, together, QRectF(area.left() + half + 28, area.top() + high, area.width() - half - 28, high))

    def _power(self, painter: QPainter, together: Solution, axes: tuple[AxisTogether, ...], area: QRectF) -> None:
        say_heading(painter, area, "Power of all axes, by two approaches")
        volts, factor = together.get("supply_voltage"), float(together["phase_current_factor"])
        efficiency, standing = float(together["driver_efficiency"]), float(together["standing_load"])
        phases = [
            (axis.name, part * factor * float(volts))
            for axis in axes
            if volts is not None and (part := phases_of(axis)) is not None
        ]
        balance = [(axis.name, part) for axis in axes if (part := balance_of(axis, efficiency)) is not None]
        balance += [("standing", standing)] if standing and balance else []
        peak = together.get("machine_peak_power")
        if peak is not None and together.get("supply_power_by_balance") == peak:
            balance = [(AT_ONCE, float(peak))]
        needed, given = together.get("supply_power_needed"), together.get("supply_power")
        if needed is None:
            say_lines(
                painter, area.adjusted(0, 28, 0, 0), "Not known yet: give the axes their motors, drivers and cycles.", "muted", 14
            )
            return
        end = ceiling(1.2 * max(float(needed), float(given or 0.0)))
        bars = QRectF(area.left() + NAMES, area.top() + 44, area.width() - NAMES - 8, area.height() - 44)
        shade = {axis.name: SHADES[place % len(SHADES)] for place, axis in enumerate(axes)} | {"standing": "line", AT_ONCE: "blue"}
        each = min(26.0, (bars.height() - 8) / 2)
        for row, (word, parts) in enumerate((("by phase currents", phases), ("by balance", balance))):
            self._stack(painter, QRectF(bars.left(), bars.top() + (each + 8) * row, bars.width(), each), word, parts, shade, end)
        for value, other, word, color in ((needed, given, "take", "accent"), (given, needed, "there is", "ink")):
            if value is not None:
                x = bars.left() + bars.width() * float(value) / end
                painter.setPen(theme.pen(color, 2.0))
                painter.drawLine(QPointF(x, bars.top() - 4), QPointF(x, bars.top() + 2 * each + 10))
                right = other is not None and float(value) > float(other)
                place = QRectF(x + 5 if right else x - 205, bars.top() - 22, 200, 18)
                text = f"{word} {number_text(float(value), 3)} W"
                say(painter, place, text, color, 14, bold=word == "take", align=LEFT if right else RIGHT)

    @staticmethod
    def _stack(
        painter: QPainter, bar: QRectF, word: str, parts: list[tuple[str, float]], shade: dict[str, str], end: float
    ) -> None:
        total = sum(value for _, value in parts)
        say(painter, QRectF(bar.left() - NAMES, bar.top(), NAMES - 10, bar.height()), word, "muted", 13)
        painter.fillRect(bar, theme.color("terrain"))
        x = bar.left()
        for name, value in parts:
            wide = bar.width() * value / end
            painter.fillRect(QRectF(x, bar.top(), max(1.0, wide - 2), bar.height()), theme.color(shade[name]))
            if wide > 24:
                say(
                    painter,
                    QRectF(x, bar.top(), wide - 2, bar.height()),
                    name,
                    "panel" if name != "standing" else "ink",
                    13,
                    bold=True,
                    align=CENTRE,
                )
            x += wide
        say(painter, QRectF(x + 6, bar.top(), 120, bar.height()), f"{number_text(total, 3)} W" if parts else "not known", "ink", 13)

    @staticmethod
    def _bus(painter: QPainter, together: Solution, area: QRectF) -> None:
        """From the supply's voltage to where the bus rises, against the weakest driver."""
        say_heading(painter, area, "The bus when all axes stop at once")
        volts, after = together.get("supply_voltage"), together.get("bus_voltage_after_stop")
        if volts is None:
            say_lines(painter, area.adjusted(0, 24, 0, 0), "The voltage of the shared supply is not given.", "muted", 13)
            return
        try:
            weakest = least_limit(on_supply(together["axes_together"], volts))
        except NotKnown:
            weakest = None
        limit = None if weakest is None or weakest.voltage_limit is None else weakest.voltage_limit
        end = 1.15 * max(float(value) for value in (volts, after, limit) if value is not None)
        bar = QRectF(area.left(), area.top() + 40, area.width() - 12, BAR)

        def x(value: float) -> float:
            return float(bar.left() + bar.width() * value / end)

        painter.fillRect(bar, theme.color("terrain"))
        painter.fillRect(QRectF(bar.left(), bar.top(), x(float(volts)) - bar.left(), bar.height()), theme.color("blue"))
        say(painter, QRectF(bar.left() + 6, bar.top(), 160, bar.height()), f"supply {number_text(float(volts), 3)} V", "panel", 12)
        if after is not None:
            over = limit is not None and after > limit
            painter.fillRect(
                QRectF(x(float(volts)), bar.top(), x(float(after)) - x(float(volts)), bar.height()),
                theme.color("short" if over else "tight"),
            )
            say(
                painter,
                QRectF(x(float(after)) - 240, bar.top() - 20, 240, 18),
                f"rises to {number_text(float(after), 3)} V",
                "short" if over else "ink",
                14,
                bold=True,
                align=RIGHT,
            )
        if limit is not None and weakest is not None:
            painter.setPen(theme.pen("short", 2.0))
            painter.drawLine(QPointF(x(limit), bar.top() - 4), QPointF(x(limit), bar.bottom() + 6))
            say(
                painter,
                QRectF(x(limit) - 300, bar.bottom() + 4, 300, 18),
                f"driver of {weakest.name} takes {number_text(limit, 3)} V",
                "short",
                12,
                align=RIGHT,
            )
        left = QRectF(area.left(), bar.bottom() + 22, area.width(), area.bottom() - bar.bottom() - 22)
        say_lines(painter, left, what_takes_it(together), "muted")

    @staticmethod
    def _mains(painter: QPainter, together: Solution, area: QRectF) -> None:
        """What is drawn from the wall, as a share of the circuit."""
        say_heading(painter, area, "Share of the circuit")
        share, current = together.get("circuit_share"), together.get("mains_current")
        may = float(together["continuous_share"])
        bar = QRectF(area.left(), area.top() + 40, area.width() - 4, BAR)
        end = max(1.0, 1.05 * float(share or 0.0))
        painter.fillRect(bar, theme.color("terrain"))
        x = bar.left() + bar.width() * may / end
        if share is not None:
            painter.fillRect(
                QRectF(bar.left(), bar.top(), bar.width() * float(share) / end, bar.height()),
                theme.color("short" if share > may else "blue"),
            )
            say(
                painter,
                QRectF(bar.left(), bar.top() - 20, bar.width(), 18),
                f"{number_text(float(current), 3)} A, {100 * float(share):.0f} %",
                "ink",
                14,
                bold=True,
            )
        else:
            say(
                painter,
                QRectF(bar.left(), bar.top() - 20, bar.width(), 18),
                "efficiency, power factor or circuit not given",
                "muted",
            )
        painter.setPen(theme.pen("short", 2.0))
        painter.drawLine(QPointF(x, bar.top() - 4), QPointF(x, bar.bottom() + 6))
        say(painter, QRectF(x - 200, bar.bottom() + 4, 200, 18), f"{100 * may:.0f} % for hours", "short", align=RIGHT)
        say_lines(
            painter,
            QRectF(area.left(), bar.bottom() + 22, area.width(), area.bottom() - bar.bottom() - 22),
            "Local electrical code and a licensed electrician decide.",
            "muted",
        )


def what_takes_it(together: Solution) -> str:
    """What comes back when all axes stop, and whether this supply takes it."""
    after, energy = together.get("bus_voltage_after_stop"), together.get("stopping_energy_together")
    kind = {
        "linear": "A linear supply's capacitor takes it.",
        "switching": "A switching supply does not take it without help.",
    }.get(str(together.get("supply_kind")), "Whether the supply is linear or switching is not said.")
    back = "" if energy is None else f"{number_text(float(energy), 3)} J come back. "
    return f"{back}{'' if after is not None else 'The supply capacitance is not given. '}{kind}"
