"""The parts library: how many, physically consistent, extended, refused row by row; and data sheets that do not fit together."""

from __future__ import annotations

import json
import math
from collections import Counter
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from urban_mule.core.motor.datasheet import SLIPS, doubts
from urban_mule.core.motor.printed import CURVES
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.subjects import axis_sheet
from urban_mule.store.library.drives import wired_rows
from urban_mule.store.library.parts import (
    NEEDED,
    Part,
    add_parts,
    all_parts,
    own_parts,
    parse_csv,
    parse_json,
    part_of,
    parts_csv,
    parts_json,
    read_parts,
    shipped_parts,
    write_parts,
)
from urban_mule.store.text_files import BadFile

PARTS = shipped_parts()
BY_FIGURES = [part for part in PARTS if CURVES not in part.values]
STEPPERS = [part for part in BY_FIGURES if part.kind == "stepper"]


def test_enough_parts_of_every_kind_ship() -> None:
    counted = Counter(part.kind for part in PARTS)
    assert counted["stepper"] >= 120 and counted["servo"] >= 40
    assert counted["reduction"] + counted["worm"] + counted["brake"] >= 30
    assert {part.values["leads"] for part in STEPPERS} == {4, 6, 8}
    frames = {round(1e3 * part.values["frame"]) for part in STEPPERS}
    assert min(frames) == 42 and max(frames) == 110
    assert len({part.name for part in PARTS}) == len(PARTS) and not any(part.own for part in PARTS)


def test_what_ships_is_physically_consistent() -> None:
    """No doubt about any row; and over the whole range the scaling of real motors."""
    for part in PARTS:
        assert doubts(part.kind, part.values) == (), part.name
        assert set(NEEDED[part.kind]) <= part.values.keys()
    rows = [part for part in STEPPERS if part.values["leads"] == 4]
    volume = np.log([part.values["frame"] ** 2 * part.values["length"] for part in rows])

    def slope(figure: Any, over: Any = volume) -> float:
        return float(np.polyfit(over, np.log([figure(part.values) for part in rows]), 1)[0])

    assert 1.0 < slope(lambda v: v["holding_torque"]) < 1.6, "torque grows faster than volume"
    assert 1.3 < slope(lambda v: v["rotor_inertia"]) < 2.0, "rotor inertia faster still"
    assert -0.85 < slope(lambda v: v["thermal_resistance"]) < -0.55, "cooling goes with the surface"
    assert slope(lambda v: v["mass"]) == pytest.approx(1.0, abs=0.02)
    heat = [2 * v["rated_current"] ** 2 * v["phase_resistance"] * v["thermal_resistance"] for v in (part.values for part in rows)]
    assert max(heat) / min(heat) < 1.1, "rated at one rise: the current says how the same copper is wound"
    for part in STEPPERS:
        v = part.values
        assert v["rated_current"] * v["phase_resistance"] < 12 and 0.5 < v["mass"] / (4050 * v["frame"] ** 2 * v["length"]) < 1.5


def test_the_windings_of_one_size_are_the_same_copper() -> None:
    """Two ratings of one motor: the same torque and heat, resistance and inductance as the square of the turns."""
    pairs = 0
    for one in STEPPERS:
        for other in STEPPERS:
            same = all(one.values[k] == other.values[k] for k in ("frame", "length", "step_angle"))
            rated = one.values["rated_current"], other.values["rated_current"]
            if same and one.values["leads"] == other.values["leads"] == 4 and rated[0] < rated[1]:
                pairs += 1
                turns2 = (rated[1] / rated[0]) ** 2
                assert one.values["phase_resistance"] / other.values["phase_resistance"] == pytest.approx(turns2, rel=0.12)
                assert one.values["phase_inductance"] / other.values["phase_inductance"] == pytest.approx(turns2, rel=0.35)
                assert one.values["holding_torque"] == pytest.approx(other.values["holding_torque"], rel=0.1)
    assert pairs >= 20


def test_every_shipped_motor_solves_on_its_sheet() -> None:
    for part in PARTS:
        if part.kind in ("stepper", "servo"):
            sheet = axis_sheet("linear", part.kind)
            known = {k: v for k, v in wired_rows(part)[0].items() if k in sheet.inputs}
            solution = sheet.solve(**known, supply_voltage=48.0, **({"current_peak": 1.0} if part.kind == "stepper" else {}))
            gives = solution["torque_curve"](np.array([0.0, 50.0, 400.0]))
            assert gives[0] > 0 and gives[0] >= gives[1] >= gives[2] >= 0, part.name


# In and out

def test_csv_and_json_give_back_what_they_were_given() -> None:
    for text, parse in ((parts_csv(PARTS), parse_csv), (parts_json(PARTS), parse_json)):
        again = parse(text)
        assert again.refused == () and [part.name for part in again.parts] == [part.name for part in PARTS]
        for one, other in zip(again.parts, PARTS, strict=True):
            assert one.kind == other.kind and one.values.keys() == other.values.keys()
            for key, value in other.values.items():
                wanted = pytest.approx(value, rel=1e-9) if isinstance(value, float) else value
                assert one.values[key] == wanted, (one.name, key)
    assert json.loads(parts_json(PARTS[:1]))["format"] == "urban-mule-parts/1"


HEAD = ("kind;name;holding_torque [ozf·in];rated_current [A];phase_resistance [mΩ];phase_inductance [mH];rotor_inertia [g·cm²];"
        "step_angle [°];leads\n")
CSV = HEAD + """\
stepper;good one;270;2,8;1130;3,6;480;1,8;8
stepper;negative;-1;2,8;1130;3,6;480;1,8;4
stepper;a word;much;2,8;1130;3,6;480;1,8;4
stepper;no current;270;;1130;3,6;480;1,8;4
lever;odd;270;2,8;1130;3,6;480;1,8;4

stepper;;270;2,8;1130;3,6;480;1,8;4
stepper;good one;270;2,8;1130;3,6;480;1,8;4
stepper;half a lead;270;2,8;1130;3,6;480;1,8;4,5
stepper;too long;270;2,8;1130;3,6;480;1,8;4;9
stepper;henries;270;2,8;1130;3600;480;1,8;4
"""


def test_bad_rows_are_refused_one_by_one_and_good_rows_kept() -> None:
    read = parse_csv(CSV)
    assert [part.name for part in read.parts] == ["good one", "henries"]
    assert read.parts[0].values["holding_torque"] == pytest.approx(1.9066, rel=1e-4)
    assert read.parts[0].values["phase_resistance"] == pytest.approx(1.13) and read.parts[0].values["leads"] == 8
    said = dict(line.split(": ", 1) for line in read.refused)
    assert "holding_torque is -0.00706155 N·m; allowed is a number above 0 N·m" in said["line 3"]
    assert "holding_torque is 'much' where a number is needed" in said["line 4"]
    assert "rated_current is not given; a stepper needs holding_torque, rated_current" in said["line 5"]
    assert "kind is 'lever'; allowed is one of stepper, servo" in said["line 6"]
    assert "name is empty" in said["line 8"] and "'good one' stands already in line 2" in said["line 9"]
    assert "leads is 4.5; allowed is a whole number" in said["line 10"]
    assert "10 columns where the first row names 9" in said["line 11"]
    assert len(said) == 8 and all(line.endswith(".") for line in read.refused)
    assert len(read.doubtful) == 1 and read.doubtful[0].startswith("line 12: Phase inductance looks wrong")


@pytest.mark.parametrize(("text", "fault"), [
    ("", "line 1: the columns kind and name are needed"), ("a,b\n1,2\n", "line 1: the columns kind and name are needed"),
])
def test_a_list_that_is_none_is_refused_whole(text: str, fault: str) -> None:
    with pytest.raises(BadFile, match=fault):
        parse_csv(text)


def test_a_column_in_a_unit_that_does_not_fit_is_refused_by_row() -> None:
    read = parse_csv("kind,name,brake_torque [kg]\nbrake,b,2\n")
    assert read.parts == () and "brake_torque is “kg” is not a unit that fits; allowed is N·m" in read.refused[0]
    odd = parse_csv("kind,name,brake_torque,colour\nbrake,b,2,red\n")
    assert odd.refused[0].startswith("line 2: colour is not known of a brake")
    assert parse_csv("kind,name,brake_torque,x_shelf\nbrake,b,2,4\n").parts[0].values == {"brake_torque": 2.0}


@pytest.mark.parametrize(("text", "fault"), [
    ("[", "this is not JSON"), ("[]", "the file holds no parts list"), ('{"format": "other", "parts": []}', "no parts list"),
    ('{"format": "urban-mule-parts/1", "parts": 3}', "no parts list"),
])
def test_json_that_is_no_list_is_refused(text: str, fault: str, tmp_path: Path) -> None:
    path = tmp_path / "parts.json"
    path.write_text(text, encoding="utf-8")
    with pytest.raises(BadFile, match=fault) as why:
        read_parts(path)
    assert str(path) in str(why.value)


def test_a_stray_quote_old_line_ends_and_a_field_without_end_spoil_no_other_row() -> None:
    read = parse_csv('kind,name,brake_torque\nbrake,"a,3\nbrake,c,3\n')
    assert [part.name for part in read.parts] == ["c"] and read.refused[0].startswith("line 2: brake_torque is not given")
    assert [part.name for part in parse_csv("kind,name,brake_torque\rbrake,b,3\rbrake,d,4\r").parts] == ["b", "d"]
    long = parse_csv("kind,name,brake_torque\nbrake,z," + "x" * 200_000 + "\nbrake,e,5\n")
    assert [part.name for part in long.parts] == ["e"] and len(long.refused[0]) < 400, long.refused[0][:300]


def test_json_rows_are_refused_by_their_place() -> None:
    read = parse_json(json.dumps({"format": "urban-mule-parts/1", "parts": [
        {"kind": "brake", "name": "b", "brake_torque": 1.5}, 7, {"kind": "brake", "name": "c", "brake_torque": None},
        {"kind": "brake", "name": "d", "brake_torque": float("1e300")},
        {"kind": "worm", "name": "w", "ratio": 20, "efficiency": "half"}]}))
    assert [part.name for part in read.parts] == ["b"] and len(read.refused) == 4
    assert read.refused[0].startswith("parts[1]: kind is None") and "brake_torque is not given" in read.refused[1]
    assert "no magnitude above" in read.refused[2] and "efficiency is half" in read.refused[3]


def test_the_users_own_parts_come_first_survive_and_replace_their_namesakes(shelf: Path) -> None:
    assert own_parts().parts == () and all_parts() == PARTS
    mine = Part("brake", "a brake of mine", {"brake_torque": 1.1})
    add_parts((mine,))
    add_parts((Part("brake", "another", {"brake_torque": 2.0}), Part("brake", "a brake of mine", {"brake_torque": 1.2})))
    kept = own_parts().parts
    assert {part.name: part.values["brake_torque"] for part in kept} == {"a brake of mine": 1.2, "another": 2.0}
    assert all(part.own for part in kept) and not list(shelf.parent.glob("*.new"))
    everything = all_parts()
    assert len(everything) == len(PARTS) + 2 and everything[0].own
    renamed = Part("stepper", PARTS[3].name, {**PARTS[3].values, "price": 1.0})
    add_parts((renamed,))
    assert next(part for part in all_parts() if part.name == PARTS[3].name).values["price"] == 1.0
    shelf.write_bytes(b"\xff\xfe\x00")
    with pytest.raises(BadFile, match="not UTF-8"):
        all_parts()
    with pytest.raises(BadFile, match="cannot be written"):
        write_parts(Path("/proc/nowhere/parts.csv"), (mine,))
    with pytest.raises(BadFile, match="cannot be read"):
        read_parts(shelf.parent / "gone.csv")


def test_a_part_says_what_is_wrong_with_it() -> None:
    for row, why in (({"kind": "brake", "name": "b"}, "brake_torque is not given"), ({"kind": None}, "kind is None"),
                     ({"kind": "reduction", "name": "r", "ratio": 0}, "ratio is 0; allowed is a number above 0"),
                     ({"kind": "stepper", "name": "s", "rated_current_is": "loud"}, "rated_current_is is 'loud'; allowed is one")):
        with pytest.raises(BadValue, match=why):
            part_of(row)


# Data sheets that do not fit together

GOOD = next(part.values for part in STEPPERS if "57 mm stepper 2.02 N·m, 2.8 A" in part.name)


@pytest.mark.parametrize(("name", "slip"), [
    ("phase_inductance", 1e3), ("phase_inductance", 1e-3), ("holding_torque", 141.612), ("rotor_inertia", 1e3),
    ("rotor_inertia", 1e4), ("phase_resistance", 1e3), ("rated_current", 1e3), ("mass", 1e3), ("rotor_inertia", 1e-4),
])
def test_a_slip_of_unit_or_point_is_found_and_mended(name: str, slip: float) -> None:
    """Truth, distorted by one usual slip, recovered: the right figure is named and the value that would fit is the true one."""
    assert doubts("stepper", GOOD) == ()
    found = doubts("stepper", {**GOOD, name: GOOD[name] * slip})
    assert [doubt.name for doubt in found] == [name], found
    assert found[0].suggestion == pytest.approx(GOOD[name], rel=1e-9)
    assert "looks wrong" in found[0].sentence and "would fit" in found[0].sentence


def test_most_slips_anywhere_in_the_library_are_caught() -> None:
    """A factor of a thousand in any electrical or mechanical figure of any motor is always doubted."""
    caught = total = 0
    for part in STEPPERS[::6]:
        for name in ("phase_inductance", "holding_torque", "rotor_inertia", "phase_resistance", "rated_current"):
            for slip in (1e3, 1e-3):
                total += 1
                caught += bool(doubts("stepper", {**part.values, name: part.values[name] * slip}))
    assert caught == total
    assert len(set(SLIPS)) == len(SLIPS)


def test_the_winding_of_every_servo_bears_out_what_its_sheet_states() -> None:
    """At the rated voltage the peak torque up to the rated speed, some left at the greatest, and a rated rise copper bears."""
    for part in (part for part in BY_FIGURES if part.kind == "servo"):
        given = {name: value for name, value in part.values.items() if name in axis_sheet("linear", "servo").inputs}
        solution = axis_sheet("linear", "servo").solve(**given, supply_voltage=part.values["rated_voltage"])
        at = np.array([part.values["rated_speed"], part.values["max_speed"]])
        peak, some = solution["torque_curve"](at * [1.0, 0.999])
        assert peak == part.values["motor_peak_torque"] and some > 0 and solution["speed_limit"] == at[1], part.name
        assert 80 < solution["rated_temperature_rise"] < 100 and part.values["winding_figures_are"] == "line to line", part.name


def test_odd_step_angles_servos_and_sparse_sheets() -> None:
    odd = doubts("stepper", {**GOOD, "step_angle": 1.8})
    assert [d.name for d in odd] == ["step_angle"] and odd[0].suggestion == pytest.approx(math.radians(1.8))
    servo = next(part.values for part in PARTS if part.kind == "servo")
    assert doubts("servo", servo) == ()
    swapped = doubts("servo", {**servo, "rated_speed": servo["max_speed"], "max_speed": servo["rated_speed"]})
    assert (swapped and swapped[0].suggestion is None) or swapped[0].name in ("max_speed", "rated_speed")
    assert [d.name for d in doubts("servo", {**servo, "rotor_inertia": servo["rotor_inertia"] * 1e4})] == ["rotor_inertia"]
    assert doubts("stepper", {"holding_torque": 1.0}) == () and doubts("brake", {"brake_torque": 1.0}) == ()


def test_the_motor_stage_doubts_a_sheet_that_does_not_fit() -> None:
    known = {k: v for k, v in GOOD.items() if k in axis_sheet("linear", "stepper").inputs}
    good = axis_sheet("linear", "stepper").solve(**known)
    assert not [v for v in good.verdicts() if v.check == "data sheet"]
    bad = axis_sheet("linear", "stepper").solve(**{**known, "phase_inductance": 4.6})
    found = next(v for v in bad.verdicts() if v.check == "data sheet")
    assert found.level == "tight" and "Phase inductance looks wrong" in found.sentence and "data sheet" in found.next
