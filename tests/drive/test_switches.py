"""Banks of switches: the row that is set against trying every row, what cannot be right, what is not there."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from urban_mule.core.drive.banks import SwitchBank, SwitchRow, SwitchTable, bank_faults, missing_rows, setting_of
from urban_mule.core.drive.current import ENTRIES
from urban_mule.core.sheet.quantity import Unknown
from urban_mule.core.subjects import axis_sheet
from urban_mule.store.document.drivers import Bank, DriverModel
from urban_mule.store.library.drives import drivers_for
from urban_mule.store.library.parts import shipped_parts

ROW = st.builds(lambda **sets: sets, current_peak=st.sampled_from([1.0, 1.5, 2.0, 2.8]), microsteps=st.sampled_from([None, 8, 16]),
                hold_fraction=st.sampled_from([None, 0.5, 1.0]))


@given(rows=st.lists(ROW, min_size=1, max_size=8), current=st.sampled_from([0.9, 1.5, 1.9, 5.0]),
       hold=st.sampled_from([0.3, 0.5, 0.8]))
@settings(max_examples=200, deadline=None)
def test_the_row_set_is_the_best_of_all_that_are_right(rows: list[dict[str, Any]], current: float, hold: float) -> None:
    table = SwitchTable((1, 2, 3), tuple(SwitchRow(positions=f"{place:03b}", **sets) for place, sets in enumerate(rows)))
    found = setting_of(table, {"current_peak": current, "microsteps": 16, "hold_fraction": hold})
    right = [row for row in table.rows if row.microsteps in (None, 16)] if table.sets("microsteps") else list(table.rows)
    enough = [row for row in right if row.hold_fraction is None or row.hold_fraction >= hold]
    if found.row is None:
        assert found.why and (not right or table.sets("hold_fraction") or all(row.current_peak > current for row in right))
        return
    assert found.row in right and found.row.current_peak <= current, "never more current than is meant, never other microsteps"
    assert found.row in enough or not enough, "never less idle current than is meant while a row gives it"


def bank(**more: Any) -> dict[str, Any]:
    rows = [{"positions": "00", "current_peak": 1.0}, {"positions": "01", "current_peak": 2.0}]
    return {"name": "S1", "count": 4, "tables": [{"switches": [1, 2], "rows": rows}], **more}


@pytest.mark.parametrize(("table", "fault"), [
    ({"switches": [1, 2], "rows": [{"positions": "00", "microsteps": 8}, {"positions": "00", "microsteps": 16}]},
     "rows 1 and 2 of the table are both 00"),
    ({"switches": [1, 2], "rows": [{"positions": "0", "microsteps": 8}]}, "row 1 of the table is '0'; allowed are 2 signs"),
    ({"switches": [1, 2], "rows": [{"positions": "0x", "microsteps": 8}]}, "row 1 of the table is '0x'"),
    ({"switches": [1, 9], "rows": []}, "names switch 9; there are 4"),
    ({"switches": [2, 2], "rows": []}, "names number 2, which table 1 has already"),
    ({"switches": [1], "rows": [{"positions": "0"}]}, "row 1 of the table sets nothing"),
])
def test_what_cannot_be_right_is_one_sentence(table: dict[str, Any], fault: str) -> None:
    with pytest.raises(ValueError, match=fault.replace("'", ".")):
        Bank.model_validate(bank(tables=[table]))


def test_two_ways_to_say_one_bank_agree_and_exclude_each_other() -> None:
    short = [{"switches": "00", "current_peak": 1.0}, {"switches": "01", "current_peak": 2.0}]
    one, other = DriverModel(switch_bank=short), DriverModel(banks=[bank()])
    inputs = [{"current_peak": 1.6, "switch_banks": driver.core_banks} for driver in (one, other)]
    assert [axis_sheet("linear", "stepper").solve(**given)["current_peak_real"] for given in inputs] == [1.0, 1.0]
    for wrong in ({"switch_bank": short, "banks": [bank()]}, {"switch_bank": [*short, short[0]]}, {"banks": [bank(), bank()]}):
        with pytest.raises(ValueError, match="allowed is one of them|are both|another bank has already"):
            DriverModel(**wrong)


def test_positions_that_a_table_leaves_out_are_named_and_switches_nobody_speaks_of_are_open() -> None:
    found = Bank.model_validate(bank()).core
    assert missing_rows(found.tables[0]) == ["10", "11"] and bank_faults(found) == []
    solution = axis_sheet("linear", "stepper").solve(current_peak=2.0, switch_banks=(found,))
    assert solution["bank_settings"][0].positions == "01??"
    bare = axis_sheet("linear", "stepper").solve(current_peak=2.0, current_entry="switches").find("current_peak_real")
    assert isinstance(bare, Unknown) and bare.missing == ("switch_banks",)


def test_every_driver_that_ships_is_whole_and_sensible() -> None:
    """Each stands on its sheet at its own limit: what it sets, how warm it gets; every way to set a current is there."""
    drivers = drivers_for(shipped_parts(), "stepper")
    assert len(drivers) >= 25 and {part.values["current_entry"] for part in drivers} == set(ENTRIES)
    assert {part.values["interface_mode"] for part in drivers} == {"pulse", "single wire", "bus"}
    currents, volts = ([part.values[name] for part in drivers] for name in ("current_limit", "voltage_limit"))
    assert min(currents) == 1 and max(currents) == 10 and min(volts) == 24 and max(volts) == 80
    sheet = axis_sheet("linear", "stepper")
    for part in drivers:
        model = DriverModel.model_validate({k: v for k, v in part.values.items() if k in DriverModel.model_fields})
        known = {name: value for name, value in model if name in sheet.inputs and value is not None}
        solution = sheet.solve(**{**known, "current_peak": part.values["current_limit"], "cooling": "finned", "microsteps": 16,
                                  "ambient_temperature": 45.0, "hold_fraction": 0.5, "switch_banks": model.core_banks})
        assert 60 < solution["driver_temperature"] <= part.values["driver_temperature_limit"], part.name
        assert solution["current_peak_real"] >= 0.9 * part.values["current_limit"], part.name
        schools = solution["cooling_schools"]
        assert [one.current_limit for one in schools] == sorted(one.current_limit for one in schools), "better cooling bears more"
        assert all(one.row is not None for bank_ in solution.get("bank_settings", ()) for one in bank_.tables), part.name
        for table in (table for bank_ in model.core_banks for table in bank_.tables):
            assert missing_rows(table) == [], (part.name, table.switches)
    kinds = {bank_.kind for part in drivers for bank_ in DriverModel(banks=part.values.get("banks")).core_banks}
    assert kinds == {"switches", "jumpers"} and isinstance(drivers[0].values["banks"], list)
    assert SwitchBank is type(DriverModel(banks=drivers[0].values["banks"]).core_banks[0])
