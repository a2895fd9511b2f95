"""The worked cases, computed outside this application, and the contract of `solve` around them."""

from __future__ import annotations

import copy
import json
import math
import random
import re
from pathlib import Path
from typing import Any

import pytest
from tests.places import VECTORS

from urban_mule.cli import main
from urban_mule.store.exchange.open_json import export_project, parse_project, read_project
from urban_mule.store.solve import open_solution, solve_axis
from urban_mule.store.text_files import BadFile

CASES = sorted(VECTORS.glob("*.json"))
OWN_FORM = 0.01  # share of builds: what a stepper really gives has a better form here than a constant (docs/honesty.md)


def solved(capsys: pytest.CaptureFixture[str], path: Path, *more: str) -> Any:
    assert main(["solve", str(path), *more]) == 0
    out, err = capsys.readouterr()
    assert err == ""
    return json.loads(out, parse_constant=lambda name: pytest.fail(f"{name} in strict JSON"))


@pytest.mark.parametrize("path", CASES, ids=lambda p: p.stem)
def test_the_worked_cases_agree(path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    expected = json.loads((VECTORS / "expected" / path.name).read_text())
    answer = solved(capsys, path)
    assert answer["axes"].keys() == expected["axes"].keys() and answer["spindles"].keys() == expected.get("spindles", {}).keys()
    parts = [(answer["axes"][axis], wanted) for axis, wanted in expected["axes"].items()]
    parts += [(answer["spindles"][name], wanted) for name, wanted in expected.get("spindles", {}).items()]
    for found, wanted in [*parts, *([(answer["project"], expected["project"])] if "case" in expected else [])]:
        for name, one, there in _flat(wanted["quantities"], found["quantities"]):
            room = max(one.get("absolute", 0.0), one.get("relative", 0.0) * abs(one["value"]), expected["absolute_floor"])
            assert math.isclose(there, one["value"], rel_tol=0, abs_tol=room), name
        for name in wanted["unknown"]:
            assert name not in found["quantities"] and found["unknown"][name], name
        if "breaks" in wanted:
            assert found["quantities"]["settings_as_set"]["breaks"] == wanted["breaks"]
        for name in wanted["absent"]:
            assert name not in found["quantities"] and name not in found["unknown"], name
        assert all(v["level"] in ("good", "tight", "short", "unknown") and v["sentence"] for v in found["verdicts"])
        assert re.search(wanted.get("verdicts_mention", ""), json.dumps(found["verdicts"], ensure_ascii=False))


@pytest.mark.parametrize("path", [one for one in CASES if one.stem.startswith(("16", "17", "21"))], ids=lambda p: p.stem)
def test_how_sure_each_number_is_agrees_and_with_it_the_odds(path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    expected = json.loads((VECTORS / "expected" / path.name).read_text())
    answer = solved(capsys, path, "--uncertainty")
    for axis, wanted in expected["axes"].items():
        found = answer["axes"][axis]
        for name, doubt in wanted["uncertainty"].items():
            there = found["uncertainty"][name]
            told = {one["input"]: one["share"] for one in there["inputs"]}
            assert [one["input"] for one in doubt["inputs"]] == list(told)[:len(doubt["inputs"])], (axis, name)
            pairs = [(doubt[end], there[end]) for end in ("standard", "low", "high")]
            for one, value in [*pairs, *((one["share"], told[one["input"]]) for one in doubt["inputs"])]:
                room = max(one.get("absolute", 0.0), one["relative"] * abs(one["value"]))
                assert math.isclose(value, one["value"], rel_tol=0, abs_tol=room), (axis, name)
        assert [one["quantity"] for one in wanted["odds"]] == [one["quantity"] for one in found["odds"]]
        for one, there in zip(wanted["odds"], found["odds"], strict=True):
            room = one["share"]["absolute"] + (OWN_FORM if path.stem.startswith("21") else 0.0)
            assert there["good"] == one["good"] and abs(there["share"] - one["share"]["value"]) <= room


TAKEN_BY = {"compared": "pair", "learned": "input"}


@pytest.mark.parametrize("path", [one for one in CASES if one.stem.startswith(("17", "21"))], ids=lambda p: p.stem)
def test_what_readings_teach_agrees(path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    expected = json.loads((VECTORS / "expected" / path.name).read_text())
    answer = solved(capsys, path, "--learn")
    for axis, wanted in expected["axes"].items():
        found = answer["axes"][axis]["learning"]
        wanted = wanted["learning"]
        for part, by in TAKEN_BY.items():
            there = {one[by]: one for one in found[part]}
            near(wanted[part], [there[one[by]] for one in wanted[part]], (axis, part))
        assert len(found["compared"]) == len(wanted["compared"])
        near(wanted["suspects"], found["suspects"][:len(wanted["suspects"])], (axis, "suspects"))
        worth = {one["reading"]: one for one in found["next"]["readings"]}
        near(wanted["next"]["readings"], [worth[one["reading"]] for one in wanted["next"]["readings"]], (axis, "next"))
        assert found["next"]["goal"] == wanted["next"]["goal"]


def near(wanted: Any, found: Any, where: tuple[str, str]) -> None:
    """Whether every number is as near as is allowed; words alike."""
    for name, one, there in _flat(wanted, found):
        room = max(one.get("absolute") or 0.0, (one.get("relative") or 0.0) * abs(one["value"]))
        assert math.isclose(there, one["value"], rel_tol=0, abs_tol=room), (*where, name, there, one["value"])


def _flat(wanted: Any, found: Any, of: str = "") -> list[tuple[str, dict[str, float], float]]:
    """Name, what is expected, and what came, of each number; a quantity may hold several, by name or in a list."""
    if not isinstance(wanted, (dict, list)):
        assert wanted == found, of
        return []
    if isinstance(wanted, dict) and "value" in wanted and "relative" in wanted:
        if not isinstance(wanted["value"], list):
            return [(of, wanted, found)]
        assert len(wanted["value"]) == len(found), of
        return [(f"{of}[{n}]", {**wanted, "value": one}, found[n]) for n, one in enumerate(wanted["value"])]
    if isinstance(wanted, list):
        assert len(wanted) == len(found), of
    pairs = wanted.items() if isinstance(wanted, dict) else enumerate(wanted)
    return [one for name, inner in pairs for one in _flat(inner, found[name], f"{of}.{name}")]


def test_a_project_survives_export_and_import() -> None:
    for path in CASES:
        project = read_project(path)
        again = parse_project(export_project(project).encode())
        assert export_project(again) == export_project(project)


def test_working_and_axis_on_the_command_line(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["solve", str(CASES[0]), "--working", "rms_torque", "--axis", "X"]) == 0
    text = capsys.readouterr().out
    assert text.startswith("rms_torque = 0.168829 N·m\n") and "moving_mass = 7.2 kg" in text and "belt" in text
    for wrong in (["--axis", "Q"], ["--working", "luck"]):
        assert main(["solve", str(CASES[0]), *wrong]) == 2
        out, err = capsys.readouterr()
        assert out == "" and err.count("\n") == 1 and CASES[0].name in err


def base(**axis: Any) -> dict[str, Any]:
    return {"format": "urban-mule/1", "axes": [{"name": "X", **axis}]}


BAD = {
    "holding_torque is -1 N·m": base(motor={"kind": "stepper", "holding_torque": -1}),
    "train[0].lead is 0 m": base(train=[{"kind": "screw", "lead": 0}]),
    "train[0].efficiency is 1.2": base(train=[{"kind": "screw", "lead": 0.01, "efficiency": 1.2}]),
    "'lever', which is not built yet": base(train=[{"kind": "lever"}]),
    "axes[0].train[0]: kind is required": base(train=[{"lead": 0.01}]),
    "the nearest is 'moving_mass'": base(moving_mas=3),
    "axes[0].moving_mass is True": base(moving_mass=True),
    "axes[0].moving_mass is '3'": base(moving_mass="3"),
    "axes[0].moving_mass is 1e+16": base(moving_mass=1e16),
    "axes[0].moving_mass is nan": base(moving_mass=float("nan")),
    "axes[0].moving_mass is inf": base(moving_mass=10**400),
    "axes[0].motor_count is 1.5": base(motor_count=1.5),
    "axes[0].incline is 2 rad": base(incline=2),
    "hold_fraction is 1.1": base(driver={"hold_fraction": 1.1}),
    "driver.sense_resistance is 0 Ω": base(driver={"sense_resistance": 0}),
    "driver.register_steps is 0": base(driver={"register_steps": 0}),
    "switch_bank: rows 1 and 2 of the table are both 01": base(driver={"switch_bank": [
        {"switches": "01", "current_peak": 1.0}, {"switches": "01", "current_peak": 2.0}]}),
    "driver.banks[0]: S1: rows 1 and 2 of the table are both 1": base(driver={"banks": [
        {"name": "S1", "count": 1, "tables": [
            {"switches": [1], "rows": [{"positions": "1", "microsteps": n} for n in (8, 16)]}]}]}),
    "shared_pulses is 1; allowed is one of true, false": {**base(), "shared_pulses": 1},
    "distance is 0 m or rad": base(cycle=[{"distance": 0, "speed": 1, "acceleration": 1}]),
    "axes[0].cycle[0].acceleration is required": base(cycle=[{"distance": 1, "speed": 1}]),
    "axes[0].readings[0].commanded is required": base(readings=[{"kind": "travel", "measured": [1]}]),
    "is a belt behind the link that already turns": base(train=[{"kind": "screw"}, {"kind": "belt"}]),
    "this axis is rotary": base(motion="rotary", train=[{"kind": "screw"}]),
    "controller.unit is deg": base(controller={"unit": "deg"}),
    "up has 2 columns for 1 targets": base(readings=[{"kind": "reversal", "targets": [0], "up": [[1, 2]], "down": [[1]]}]),
    "time does not rise at sample 1": base(readings=[{"kind": "acceleration", "time": [0, 0], "values": [1, 2]}]),
    "values holds a value that is not finite": base(
        readings=[{"kind": "acceleration", "time": [0, 1], "values": [1, float("nan")]}]),
    "readings[0].targets is required": base(readings=[{"kind": "reversal"}]),
    "axes[1].name is 'X', which another axis has": {"format": "urban-mule/1", "axes": [{"name": "X"}, {"name": "X"}]},
    "format is 'urban-mule/9'": {"format": "urban-mule/9", "axes": [{"name": "X"}]},
    "format is required": {"axes": [{"name": "X"}]},
    "axes is empty": {"format": "urban-mule/1", "axes": []},
    "nan is not a number that this file may hold": base(x_note=float("nan")),
}
RAW = {
    "line 1, column 2": b"{", "holds a list": b"[]", "not UTF-8": "{\"format\": \"ü\"}".encode("utf-16"),
    "nested too deeply": b"[" * 200_000, "stands twice": b'{"format": 1, "format": 2}', "not JSON": b"\x00\x01",
}


@pytest.mark.parametrize("fault", [*BAD, *RAW])
def test_bad_input_is_one_sentence_with_its_place(fault: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "bad.json"
    path.write_bytes(RAW[fault] if fault in RAW else json.dumps(BAD[fault]).encode())
    assert main(["solve", str(path)]) == 2
    out, err = capsys.readouterr()
    assert out == "" and err.count("\n") == 1 and err.startswith(str(path)) and fault in err and "Traceback" not in err


def test_keys_that_begin_with_x_are_kept_and_a_missing_file_is_named(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    assert parse_project(json.dumps(base(x_shelf={"bin": 4})).encode()).axes[0].x_shelf == {"bin": 4}  # type: ignore[attr-defined]
    assert main(["solve", str(tmp_path / "gone.json")]) == 2
    assert "gone.json: the file cannot be read" in capsys.readouterr().err


ODD = [None, -1, 0, "x", True, [], {}, 1e16, -1e-9, 1e-300, 1e15, [[1]], {"kind": "screw"}, 1.5, float("nan"), 10**30, [None],
       [1, [2]]]


def test_whatever_a_file_holds_the_answer_is_numbers_or_one_sentence() -> None:
    """Worked cases with a few values, keys or bytes changed at random; a fixed seed."""
    rng = random.Random(11)
    sources = [path.read_bytes() for path in CASES]
    taken = 0
    for _ in range(150):
        document = json.loads(rng.choice(sources))
        for _ in range(rng.randint(1, 3)):
            holder, key = rng.choice(list(places(document)))
            if rng.random() < 0.2:
                del holder[key]
            else:
                holder[key] = copy.deepcopy(rng.choice(ODD))
        raw = bytearray(json.dumps(document).encode())
        if rng.random() < 0.15:
            raw[rng.randrange(len(raw))] = rng.randrange(256)
        try:
            project = parse_project(bytes(raw))
        except BadFile as why:
            assert str(why).endswith(".") and "\n" not in str(why)
            continue
        taken += 1
        for axis in project.axes:
            json.dumps(open_solution(solve_axis(project, axis)), allow_nan=False)
    assert 10 < taken < 190


def places(part: Any) -> Any:
    """Every (holder, key) of a document."""
    for key, inner in part.items() if isinstance(part, dict) else enumerate(part) if isinstance(part, list) else ():
        yield part, key
        yield from places(inner)
