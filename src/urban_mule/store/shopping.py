"""The list of parts, filled from the axes: what is bought, how many, for how much, by when it is ordered; CSV both ways."""

from __future__ import annotations

import csv
import io
import math
from collections import Counter
from collections.abc import Iterable, Iterator, Mapping
from datetime import date, timedelta
from typing import Any

from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.units import number_text
from urban_mule.core.train.links import LINKS
from urban_mule.store.document.brief import PartOrder
from urban_mule.store.document.edit import Path
from urban_mule.store.document.faults import first_fault
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.text_files import BadFile, cell_text, csv_rows, heading, recognised_delimiter, text_cell

DAY = 86_400.0
OWN = ""  # the axis of a row of the project or of the user's own
COLUMNS = ("axis", "part", "name", "quantity", "price", "lead_time [d]", "supplier", "ordered", "arrived", "note")
TAKEN = ("quantity", "price", "lead_time", "supplier", "ordered", "arrived", "note")


@record(frozen=True)
class Item:
    """A row of the list. axis: its name, or nothing; slot: its place in the axis; what: in words; name: of the part.

    quantity, price [the user's money each] and lead_time [s]: as entered, else as the part says; order: what was entered, or None.
    """

    axis: str
    slot: str
    what: str
    name: str
    quantity: int
    price: float | None
    lead_time: float | None
    order: PartOrder | None

    @property
    def ordered(self) -> str:
        return "" if self.order is None else self.order.ordered

    @property
    def arrived(self) -> str:
        return "" if self.order is None else self.order.arrived

    @property
    def supplier(self) -> str:
        return "" if self.order is None else self.order.supplier

    @property
    def cost(self) -> float | None:
        """What all of it costs, where the price of one is known."""
        return None if self.price is None else self.price * self.quantity


def shopping_list(project: Project) -> list[Item]:
    """Every part of every axis, what the project has for all of them, and the user's own rows."""
    found = [item for axis in project.axes for item in _of_axis(axis)]
    shared = [("supply", "supply", "")] if getattr(project, "supply_voltage", None) is not None else []
    names = dict.fromkeys(axis.controller.name for axis in project.axes if axis.controller is not None and axis.controller.name)
    shared += [(f"controller {name}", "controller", name) for name in names]
    shared += [(f"spindle {one.name}", f"spindle {one.name}", one.motor.name) for one in project.spindles or ()]
    orders = {one.slot: one for one in project.parts or ()}
    found += [_item(OWN, slot, what, name, 1, None, orders.pop(slot, None)) for slot, what, name in shared]
    return found + [_item(OWN, slot, slot, "", 1, None, order) for slot, order in orders.items()]


def _of_axis(axis: Axis) -> Iterator[Item]:
    orders = {one.slot: one for one in axis.parts or ()}
    motors = int(getattr(axis, "motor_count", None) or 1)
    made: list[tuple[str, str, str, int, Any]] = []
    if axis.motor is not None:
        made.append(("motor", f"{axis.motor.kind} motor", axis.motor.name, motors, axis.motor))
    if axis.driver is not None:
        made.append(("driver", "driver", axis.driver.name, motors, None))
    kinds = Counter(link.kind for link in axis.train or ())
    for place, link in enumerate(axis.train or ()):
        if LINKS[link.kind].bought:
            which = f" {place + 1}" if kinds[link.kind] > 1 else ""
            made.append((f"train {place}", f"{link.kind}{which}", "", motors if place == 0 else 1, None))
    if getattr(axis.motor, "brake_torque", None) is not None:
        made.append(("brake", "brake", "", 1, None))
    for slot, what, name, count, part in made:
        yield _item(axis.name, slot, what, name, count, part, orders.pop(slot, None))
    for slot, order in orders.items():  # of a link that is gone: what was ordered is not forgotten
        yield _item(axis.name, slot, f"{slot}, no longer in the axis", "", 1, None, order)


def _item(axis: str, slot: str, what: str, name: str, count: int, part: Any, order: PartOrder | None) -> Item:
    def said(key: str) -> Any:
        own = getattr(order, key, None)
        return getattr(part, key, None) if own is None else own

    quantity = count if order is None or order.quantity is None else order.quantity
    return Item(axis, slot, what, name, quantity, said("price"), said("lead_time"), order)


def ordered_with(project: Project, item: Item, **changes: Any) -> tuple[Path, Any]:
    """The path and the orders there after a row says something else; what is None is no longer said. Raises BadValue."""
    path, held = _orders_of(project, item.axis)
    before = next((one for one in held if one.slot == item.slot), None)
    made = _order(before, item.slot, changes)
    kept = tuple(made if one is before else one for one in held)
    return path, (kept if before is not None else (*held, made))


def _orders_of(project: Project, axis: str) -> tuple[Path, tuple[PartOrder, ...]]:
    """Where the orders of an axis stand, or those of the whole machine, and what they are."""
    index = next((n for n, one in enumerate(project.axes) if one.name == axis), None)
    if index is None or axis == OWN:
        return ("parts",), project.parts or ()
    return ("axes", index, "parts"), project.axes[index].parts or ()


def _order(before: PartOrder | None, slot: str, changes: Mapping[str, Any]) -> PartOrder:
    """An order after it says something else. Raises BadValue."""
    said = {} if before is None else {key: value for key, value in before if value not in (None, "")}
    whole = {key: value for key, value in {**said, "slot": slot, **changes}.items() if value is not None}
    try:
        return PartOrder.model_validate(whole)
    except ValueError as why:
        raise BadValue(first_fault(why)) from None


def without(project: Project, item: Item) -> tuple[Path, Any]:
    """The path and the orders there without a row."""
    path, held = ordered_with(project, item)
    return path, tuple(one for one in held if one.slot != item.slot) or None


def day_of(text: str) -> date | None:
    """A date as ISO has it, or None."""
    try:
        return date.fromisoformat(text.strip()[:10])
    except ValueError:
        return None


def order_by(item: Item, begin_on: date | None) -> date | None:
    """The last day to order a part so that it is there on the day of beginning; None where that cannot be said or is past need."""
    if begin_on is None or item.lead_time is None or item.arrived or item.ordered:
        return None
    return begin_on - timedelta(days=-(-item.lead_time // DAY))


def summary(items: Iterable[Item], budget: float | None, begin_on: date | None, today: date) -> str:
    """What the list comes to: the money, what is not priced, what is late. budget: in the project's money."""
    items = [one for one in items if one.quantity]
    known = [one.cost for one in items if one.cost is not None]
    open_ = len(items) - len(known)
    spent, many = number_text(sum(known), 6), f"{len(items)} part{'' if len(items) == 1 else 's'}"
    priced = "1 that has" if len(known) == 1 else f"{len(known)} that have"
    said = [f"{many}: {spent}" if not open_ else f"{many}: {spent} for the {priced} a price"]
    left = None if budget is None else budget - sum(known)
    if budget is not None and left is not None and (left < 0 or not open_):
        said.append(f"{number_text(abs(left), 6)} {'left of' if left >= 0 else 'over'} the budget of {number_text(budget, 6)}")
    elif budget is not None:
        none = "1 has none" if open_ == 1 else f"{open_} have none"
        said.append(f"{none}, so what is left of the budget of {number_text(budget, 6)} is not known")
    elif open_:
        said.append(f"{open_} without a price")
    late = [one for one in items if (day := order_by(one, begin_on)) is not None and day < today]
    waits = [day for one in items if (day := order_by(one, begin_on)) is not None and day >= today]
    if late:
        names = ", ".join(f"{one.axis} {one.what}".strip() for one in late[:3])
        said.append(f"too late to order for that day: {names}{f' and {len(late) - 3} more' if len(late) > 3 else ''}")
    if waits:
        said.append(f"order next by {min(waits).isoformat()}")
    missing = sum(1 for one in items if one.ordered and not one.arrived)
    if missing:
        said.append(f"{missing} ordered and not there yet")
    return "; ".join(said) + "."


def as_csv(items: Iterable[Item]) -> str:
    """The list as CSV, lead times in days."""
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    table.writerow(COLUMNS)
    for one in items:
        days = "" if one.lead_time is None else number_text(one.lead_time / DAY, 6)
        note = "" if one.order is None else one.order.note
        axis, slot, name, supplier, ordered, arrived, note = (text_cell(text) for text in (
            one.axis, one.slot, one.name, one.supplier, one.ordered, one.arrived, note))
        table.writerow([axis, slot, name, one.quantity, "" if one.price is None else number_text(one.price, 9), days, supplier,
                        ordered, arrived, note])
    return out.getvalue()


def from_csv(text: str, project: Project) -> Project:
    """The project with what a CSV says of its parts; rows that belong to no part become the user's own. Raises BadFile."""
    from urban_mule.store.document.edit import edited

    delimiter = recognised_delimiter(text)
    lines = csv_rows(text, delimiter)
    _, head = next(lines, (1, []))
    columns = [heading(cell) or ("", "") for cell in head]
    names = [name for name, _ in columns]
    if "part" not in names:
        raise BadFile("line 1: the column part is needed in a list of parts.")
    listed = {(one.axis, one.slot): one for one in shopping_list(project)}
    orders: dict[str, dict[str, PartOrder]] = {}
    taken: set[tuple[str, str]] = set()
    for line, cells in lines:
        row = dict(zip(names, (cell_text(cell.strip()) for cell in cells), strict=False))
        key = axis, slot = row.get("axis", ""), row.get("part", "")
        if not slot:
            continue
        if axis and not any(one.name == axis for one in project.axes):
            raise BadFile(f"line {line}: axis is {axis!r}, and this project has none of that name.")
        item = listed.get(key) or Item(axis, slot, slot, "", 1, None, None, None)
        held = orders.setdefault(axis, {one.slot: one for one in _orders_of(project, axis)[1]})
        try:
            changes = {name: _cell(name, row[name], delimiter) for name in TAKEN if name in row}
            changes = {name: value for name, value in changes.items() if key in taken or value != _held(item, name)}
            if changes or key not in listed:
                held[slot] = _order(held.get(slot), slot, changes)
        except BadValue as why:
            raise BadFile(f"line {line}: {why}.") from None
        taken.add(key)
    try:
        for axis, held in orders.items():
            path, before = _orders_of(project, axis)
            if tuple(held.values()) != before:
                project = edited(project, path, tuple(held.values()))
    except BadValue as why:
        raise BadFile(f"{str(why).rstrip('.')}.") from None
    return project


def _held(item: Item, name: str) -> Any:
    return item.quantity if name == "quantity" else getattr(item, name, None) if name in ("price", "lead_time") else (
        getattr(item.order, name, "") or "")


def _cell(name: str, text: str, delimiter: str) -> Any:
    """A cell as the list holds it; nothing typed is not known. Raises BadValue."""
    if name not in ("quantity", "price", "lead_time"):
        return text
    if not text:
        return None
    try:
        value = float(text.replace(",", ".") if delimiter != "," else text)
    except ValueError:
        value = math.nan
    if not math.isfinite(value):
        raise BadValue(f"{name.replace('_', ' ')} is {text[:40]!r}; a number is needed")
    return int(value) if name == "quantity" and value == int(value) else value * DAY if name == "lead_time" else value
