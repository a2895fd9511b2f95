"""What the list of parts comes to: a bar of money against the budget, and a line of days until everything is there."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import date, timedelta

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QWidget

from urban_mule.core.sheet.units import number_text
from urban_mule.desk.kit.painting import CENTRE, LEFT, RIGHT, painted, say
from urban_mule.desk.kit.theme import theme
from urban_mule.store.shopping import DAY, Item, day_of

BAR, HEIGHT, WORD = 20.0, 146, 96.0  # px


def there_on(one: Item, today: date) -> date | None:
    """The day on which a part is there: by its order, or by one that is sent today; None where its days are not known."""
    if one.arrived:
        return day_of(one.arrived)
    if one.lead_time is None:
        return None
    ordered = day_of(one.ordered) if one.ordered else None
    return max(today, (ordered or today) + timedelta(days=one.lead_time / DAY))


class MoneyAndDays(QWidget):
    """Paid, ordered and still to be bought as one bar; the parts that are on their way, each at its day, on one line."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedHeight(HEIGHT)
        self.items: list[Item] = []
        self.budget: float | None = None
        self.begin_on: date | None = None
        self.today = date.min

    def show_items(self, items: Sequence[Item], budget: float | None, begin_on: date | None, today: date) -> None:
        """Draw these."""
        self.items = [one for one in items if one.quantity]
        self.budget, self.begin_on, self.today = budget, begin_on, today
        waits = [f"{self._name(one)} on {day.isoformat()}" for one, day in self._coming()]
        money = ", ".join(f"{words} {number_text(value, 6)}" for words, value, _ in self._money() if value)
        self.setAccessibleName(f"Money: {money or 'no price yet'}. Still to come:"
                               f" {'; '.join(waits) or 'nothing with a known day'}.")
        self.update()

    @staticmethod
    def _name(one: Item) -> str:
        return f"{one.axis} {one.what}".strip()

    def _money(self) -> list[tuple[str, float, str]]:
        """What is there, what is ordered, what is still to be bought, each with its colour."""
        def cost(chosen: list[Item]) -> float:
            return sum(one.cost or 0.0 for one in chosen)

        return [("there", cost([one for one in self.items if one.arrived]), "good"),
                ("ordered", cost([one for one in self.items if one.ordered and not one.arrived]), "blue"),
                ("to buy", cost([one for one in self.items if not one.ordered and not one.arrived]), "violet")]

    def _coming(self) -> list[tuple[Item, date]]:
        """The parts that are not there yet, each with its day, the earliest first."""
        days = [(one, day) for one in self.items if not one.arrived and (day := there_on(one, self.today)) is not None]
        return sorted(days, key=lambda one: one[1])

    @painted
    def paintEvent(self, painter: QPainter) -> None:
        painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.TextAntialiasing)
        painter.fillRect(self.rect(), theme.color("panel"))
        area = QRectF(self.rect()).adjusted(12, 6, -16, -6)
        self._bar(painter, QRectF(area.left() + WORD, area.top() + 18, area.width() - WORD, BAR), area)
        self._line(painter, QRectF(area.left() + WORD, area.top() + 90, area.width() - WORD, 0), area)

    def _bar(self, painter: QPainter, bar: QRectF, area: QRectF) -> None:
        say(painter, QRectF(area.left(), bar.top(), WORD - 8, BAR), "money", "ink", 13, bold=True)
        parts = self._money()
        total = sum(value for _, value, _ in parts)
        end = 1.04 * max(total, self.budget or 0.0, 1e-9)
        painter.fillRect(bar, theme.color("terrain"))
        x, above = bar.left(), bar.left()
        for words, value, color in parts:
            wide = bar.width() * value / end
            painter.fillRect(QRectF(x, bar.top(), wide, BAR), theme.color(color))
            text = f"{words} {number_text(value, 5)}"
            if value and wide > 8.0 * len(text):
                say(painter, QRectF(x + 6, bar.top(), wide - 8, BAR), text, "panel", 12)
            elif value and x >= above:
                say(painter, QRectF(x, bar.top() - 17, 110, 16), text, color, 12)
                above = x + 8.0 * len(text)
            elif value:
                say(painter, QRectF(x, bar.bottom() + 2, 110, 16), text, color, 12)
            x += wide
        unpriced = sum(one.price is None for one in self.items)
        if unpriced:
            say(painter, QRectF(x + 8, bar.top(), bar.right() - x - 8, BAR), f"and {unpriced} without a price", "muted", 12,
                italic=True)
        if self.budget is not None:
            at = bar.left() + bar.width() * self.budget / end
            over = total > self.budget
            painter.setPen(theme.pen("short" if over else "accent", 2.0))
            painter.drawLine(QPointF(at, bar.top() - 4), QPointF(at, bar.bottom() + 4))
            say(painter, QRectF(at - 164, bar.bottom() + 3, 160, 16), f"budget {number_text(self.budget, 6)}",
                "short" if over else "accent", 12, align=RIGHT)

    def _line(self, painter: QPainter, line: QRectF, area: QRectF) -> None:
        say(painter, QRectF(area.left(), line.top() - 10, WORD - 8, 20), "days", "ink", 13, bold=True)
        coming = self._coming()
        unknown = sum(not one.arrived and there_on(one, self.today) is None for one in self.items)
        ends = [day for _, day in coming] + ([self.begin_on] if self.begin_on is not None else [])
        span = max([(day - self.today).days for day in ends] + [7]) * 1.06
        painter.setPen(theme.pen("muted", 1.6))
        painter.drawLine(QPointF(line.left(), line.top()), QPointF(line.right(), line.top()))

        def x(day: date) -> float:
            return float(line.left() + line.width() * min(1.0, max(0.0, (day - self.today).days / span)))

        painter.setPen(theme.pen("accent", 2.0))
        painter.drawLine(QPointF(line.left(), line.top() - 8), QPointF(line.left(), line.top() + 8))
        say(painter, QRectF(line.left() + 4, line.top() + 4, 60, 16), "today", "accent", 12)
        if not coming:
            words = f"{unknown} without days" if unknown else "everything is there"
            say(painter, QRectF(line.left() + 70, line.top() - 22, line.width() - 80, 18), words, "muted", 13)
        self._marks(painter, line, coming, x, unknown)
        if self.begin_on is not None and self.begin_on >= self.today:
            late = bool(coming) and coming[-1][1] > self.begin_on
            painter.setPen(theme.pen("short" if late else "good", 2.0, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(x(self.begin_on), line.top() - 24), QPointF(x(self.begin_on), line.top() + 22))
            say(painter, QRectF(x(self.begin_on) - 130, line.top() + 20, 126, 16), "work begins", "short" if late else "good", 12,
                align=RIGHT)

    def _marks(self, painter: QPainter, line: QRectF, coming: list[tuple[Item, date]], x: Callable[[date], float],
               unknown: int) -> None:
        """A mark for each part on its way; those of one day stand together, the last of all is named with its day."""
        days: dict[date, list[Item]] = {}
        for one, day in coming:
            days.setdefault(day, []).append(one)
        used = line.left() + 40
        for day, some in days.items():
            at = x(day)
            ordered = all(one.ordered for one in some)
            painter.setPen(theme.pen("blue" if ordered else "violet", 1.6))
            painter.setBrush(theme.color("blue" if ordered else "panel"))
            painter.drawEllipse(QPointF(at, line.top()), 5, 5)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            names = self._name(some[0]) + (f" and {len(some) - 1} more" if len(some) > 1 else "")
            last = day == coming[-1][1]
            words = f"{names}, {day:%-d %b}" + (": then everything is there" if last and not unknown else "")
            wide = 7.2 * len(words) + 10
            if at - wide / 2 > used or last:
                left = min(max(at - wide / 2, line.left()), line.right() - wide)
                beneath = left < used
                say(painter, QRectF(left, line.top() + (8 if beneath else -26), wide, 18), words, "ink", 12, bold=last,
                    align=CENTRE if not beneath else LEFT)
                used = left + wide
