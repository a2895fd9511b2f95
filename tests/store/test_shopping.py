"""The list of parts: whatever is entered comes back from its CSV, orders are early enough, and links that go forget nothing."""

from __future__ import annotations

from datetime import date
from functools import reduce
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from urban_mule.core.sheet.given import BadValue
from urban_mule.demo.courtyard import demo_project
from urban_mule.store.document.edit import edited
from urban_mule.store.document.project import Project
from urban_mule.store.exchange.open_json import export_project, parse_project
from urban_mule.store.shopping import DAY, Item, as_csv, from_csv, order_by, ordered_with, shopping_list, summary, without
from urban_mule.store.text_files import BadFile

ORDERS = (("parts",), *(("axes", place, "parts") for place in range(5)))
BARE = reduce(lambda project, path: edited(project, path, None), ORDERS, demo_project())
SIGNS = st.characters(whitelist_categories=("L", "Nd"), whitelist_characters=" ,;\"'-")
WORDS = st.text(alphabet=SIGNS, max_size=30).map(str.strip)
ENTRIES = st.fixed_dictionaries({}, optional={
    "quantity": st.integers(0, 40), "price": st.floats(0, 1e5).map(lambda value: round(value, 2)),
    "lead_time": st.integers(0, 400).map(lambda days: days * DAY), "supplier": WORDS, "ordered": WORDS, "note": WORDS})


def bought(project: Project, item: Item, **said: Any) -> Project:
    return edited(project, *ordered_with(project, item, **said))


def told(project: Project) -> list[tuple[Any, ...]]:
    """What the list says of each row, as a person reads it."""
    return [(one.axis, one.slot, one.quantity, one.price, one.lead_time, one.supplier, one.ordered,
             "" if one.order is None else one.order.note) for one in shopping_list(project)]


@settings(max_examples=40, deadline=None)
@given(st.lists(st.tuples(st.integers(0, 16), ENTRIES), max_size=8), st.lists(WORDS.filter(bool), max_size=3, unique=True))
def test_what_was_entered_comes_back_from_its_table_and_from_the_open_json(
        entered: list[tuple[int, dict[str, Any]]], own: list[str]) -> None:
    project = BARE
    for place, said in entered:
        items = shopping_list(project)
        project = bought(project, items[place % len(items)], **said)
    for name in own:
        if not any(one.slot == name for one in shopping_list(project)):
            project = bought(project, Item("", name, name, "", 1, None, None, None), quantity=1)
    again = from_csv(as_csv(shopping_list(project)), BARE)
    assert told(again) == told(project)
    assert told(parse_project(export_project(project).encode())) == told(project)


@settings(max_examples=60, deadline=None)
@given(st.floats(0, 5e7), st.dates(date(2020, 1, 1), date(2090, 1, 1)))
def test_what_is_ordered_on_the_last_day_is_there_in_time(lead: float, begin: date) -> None:
    item = Item("X", "motor", "motor", "", 1, None, lead, None)
    last = order_by(item, begin)
    assert last is not None
    assert (begin - last).days * DAY >= lead > ((begin - last).days - 1) * DAY


def test_money_is_summed_and_what_has_no_price_is_counted() -> None:
    items = shopping_list(BARE)
    project = bought(bought(BARE, items[0], price=10.5), items[5], price=4.0, quantity=3)
    said = summary(shopping_list(project), 20.0, None, date(2026, 1, 1))
    assert "22.5 for the 2 that have a price" in said and "2.5 over the budget of 20" in said
    said = summary(shopping_list(bought(project, items[5], price=4.0, quantity=0)), 20.0, None, date(2026, 1, 1))
    assert "10.5 for the 1 that has a price" in said and "what is left of the budget of 20 is not known" in said
    for item in items:
        project = bought(project, item, price=0.5)
    said = summary(shopping_list(project), 200.0, None, date(2026, 1, 1))
    assert f"{len(items)} parts" in said and "left of the budget of 200" in said and "not known" not in said


def test_a_link_that_goes_leaves_its_order_and_an_axis_takes_its_own_along() -> None:
    belt = next(one for one in shopping_list(BARE) if (one.axis, one.what) == ("X", "belt"))
    project = bought(BARE, belt, price=19.0, ordered="2026-10-01")
    shorter = edited(project, ("axes", 0, "train"), project.axes[0].train[:1])
    left = next(one for one in shopping_list(shorter) if one.price == 19.0)
    assert left.slot == "belt, was link 2" and "no longer in the axis" in left.what
    turned = edited(project, ("axes", 0, "train"), ({"kind": "coupling"}, *project.axes[0].train))
    assert next(one.slot for one in shopping_list(turned) if one.price == 19.0) == "train 2", "it follows its link"
    renamed = edited(project, ("axes", 0, "name"), "Across")
    assert next(one.price for one in shopping_list(renamed) if (one.axis, one.what) == ("Across", "belt")) == 19.0
    assert not any(one.price == 19.0 for one in shopping_list(edited(project, ("axes",), project.axes[1:])))


def test_what_is_taken_back_is_as_it_was() -> None:
    item = shopping_list(BARE)[0]
    project = bought(BARE, item, price=5.0, supplier="somebody")
    assert told(bought(project, item, price=None, supplier="")) == told(BARE)
    held = next(one for one in shopping_list(project) if one.slot == item.slot and one.axis == item.axis)
    assert edited(project, *without(project, held)) == BARE


@pytest.mark.parametrize(("said", "words"), [
    ({"price": -1.0}, "at least 0"), ({"quantity": -2}, "at least 0"), ({"shaft": 0.0}, "above 0"),
    ({"takes_mode": "shouting"}, "one of"), ({"lead_time": float("nan")}, "lead_time"), ({"supplier": 7}, "supplier")])
def test_what_is_no_order_is_refused_by_name(said: dict[str, Any], words: str) -> None:
    with pytest.raises(BadValue, match=words):
        ordered_with(BARE, shopping_list(BARE)[0], **said)


def test_a_list_of_parts_holds_no_formula_and_as_many_rows_as_a_project() -> None:
    evil = bought(BARE, Item("", "=1+1", "=1+1", "", 1, None, None, None), supplier="@cmd", note="+49 30", ordered="=2",
                  arrived="-1", quantity=2)
    text = as_csv(shopping_list(evil))
    assert not any(cell[:1] in "=@+-" for line in text.splitlines() for cell in line.split(",") if cell)
    assert told(from_csv(text, BARE)) == told(evil)
    head = "axis,part,quantity,price\n"
    many = from_csv(head + "".join(f",own part {n},1,2.5\n" for n in range(1900)) + ",own part 7,3,\n", BARE)
    assert len(many.parts or ()) == 1900 and next(one for one in many.parts or () if one.slot == "own part 7").quantity == 3
    with pytest.raises(BadFile, match="2000"):
        from_csv(head + "".join(f",own part {n},1,2.5\n" for n in range(2500)), BARE)
    for wrong in ("inf", "nan", "1e400"):
        with pytest.raises(BadFile, match="line 2: quantity is .*; a number is needed"):
            from_csv(f"{head},own part,{wrong},1\n", BARE)
