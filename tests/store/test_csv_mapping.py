"""Tables as others write them: twenty-two invented layouts of the same readings, and what cannot be read says where."""

from __future__ import annotations

import random
import re
import time
from collections.abc import Callable
from contextlib import suppress
from dataclasses import replace

import numpy as np
import pytest
from tests.campaign.projects import reading

from urban_mule.store.document.faults import Refused
from urban_mule.store.document.readings import READING_MODELS
from urban_mule.store.exchange.csv_guess import as_kind, decoded, guess
from urban_mule.store.exchange.csv_mapping import UNSAID, Mapping, lacking, mapping_from, read_mapped
from urban_mule.store.exchange.csv_readings import export_csv, parse_csv
from urban_mule.store.text_files import BadFile

TARGETS = (0.0, 100.0, 200.5)  # mm
UP = ((1.5, 2.5, -3.0), (1.0, 2.0, -3.5))  # µm, two runs
DOWN = ((11.5, 12.5, 7.0), (11.0, 12.0, 6.5))
EVERY = [(run, side, place) for run in (0, 1) for side in ("up", "down")
         for place in ((0, 1, 2) if side == "up" else (2, 1, 0))]  # there and back, twice


def cell(run: int, side: str, place: int) -> float:
    return (UP if side == "up" else DOWN)[run][place]


def long(head: str, row: Callable[[float, str, int, float], str], sides: dict[str, str] | None = None, end: str = "") -> str:
    """A table with one row a number, in the order of the way."""
    words = sides or {"up": "up", "down": "down"}
    lines = [row(TARGETS[place], words[side], run + 1, cell(run, side, place)) for run, side, place in EVERY]
    return head + "\n".join(lines) + "\n" + end


def broad(head: str, sep: str, show: Callable[[float], str] = str) -> str:
    """A table with one row a target, one column a run and side."""
    rows = [sep.join(map(show, (target, UP[0][n], DOWN[0][n], UP[1][n], DOWN[1][n]))) for n, target in enumerate(TARGETS)]
    return head + "\n".join(rows) + "\n"


def comma(value: float) -> str:
    return str(value).replace(".", ",")


def unit(*names: str) -> Callable[[Mapping], Mapping]:
    """What a person says of the columns that do not say it themselves."""
    return lambda found: replace(
        found, columns=tuple((role, new or old) for (role, old), new in zip(found.columns, names, strict=True)))


def roles(*told: tuple[str, str]) -> Callable[[Mapping], Mapping]:
    return lambda found: replace(found, columns=told)


TOLD = (("target", "mm"), ("direction", ""), ("repeat", ""), ("deviation", "µm"))
LAYOUTS: dict[str, tuple[str, Callable[[Mapping], Mapping] | None]] = {
    "our own words, other order": (long("deviation [µm],target [mm],direction,repeat\n",
                                        lambda t, s, r, d: f"{d},{t},{s},{r}"), None),
    "semicolons, decimal commas": (long("Position (mm);Direction;Run;Error (µm)\n",
                                        lambda t, s, r, d: f"{comma(t)};{s};{r};{comma(d)}"), None),
    "tabs, decimal points": (long("nominal / mm\tway\tcycle\tdev / µm\n", lambda t, s, r, d: f"{t}\t{s}\t{r}\t{d}"), None),
    "bars": (long("target in mm|direction|run|indicator in µm\n", lambda t, s, r, d: f"{t} | {s} | {r} | {d}"), None),
    "blanks, commented head": (long("# target_mm direction run error_um\n", lambda t, s, r, d: f"{t} {s} {r} {d}"), None),
    "a byte order mark and returns": ("\ufeff" + long("target [mm],direction,run,error [µm]\n",
                                                      lambda t, s, r, d: f"{t},{s},{r},{d}").replace("\n", "\r\n"), None),
    "a head of its own above": (long("Machine: the courtyard mill\nDate: 2026-03-01\n\ntarget [mm];direction;run;error [µm]\n",
                                     lambda t, s, r, d: f"{t};{s};{r};{d}"), None),
    "units in a row of their own": (long("target;direction;run;error\n[mm];;;[µm]\n",
                                         lambda t, s, r, d: f"{t};{s};{r};{d}"), None),
    "no units": (long("target,direction,run,error\n", lambda t, s, r, d: f"{t},{s},{r},{d}"), unit("mm", "", "", "µm")),
    "no head": (long("", lambda t, s, r, d: f"{t},{s},{r},{d}"), roles(*TOLD)),
    "a column too many": (long("no name;target [mm];operator;direction;run;error [µm]\n",
                               lambda t, s, r, d: f"x;{t};me;{s};{r};{d}"), None),
    "signs for sides": (long("target [mm];approach;run;error [µm]\n", lambda t, s, r, d: f"{t};{s};{r};{d}",
                             {"up": "+", "down": "-"}), None),
    "ones for sides": (long("target [mm];dir;run;error [µm]\n", lambda t, s, r, d: f"{t};{s};{r};{d}",
                            {"up": "1", "down": "-1"}), None),
    "runs are not counted": (long("target [mm],direction,error [µm]\n", lambda t, s, _r, d: f"{t},{s},{d}"), None),
    "only the way gone": (long("target [mm];error [µm]\n", lambda t, _s, _r, d: f"{t};{d}"), None),
    "places reached": (long("target [mm];actual [mm]\n", lambda t, _s, _r, d: f"{t};{t + d / 1000:.4f}"), None),
    "units in the cells": (long("target;direction;run;error\n", lambda t, s, r, d: f"{t} mm;{s};{r};{d} µm"),
                           unit("mm", "", "", "µm")),
    "quoted, and comments between": (long('"target [mm]","direction","run","error [µm]"\n! from here on\n',
                                          lambda t, s, r, d: f'"{t}","{s}","{r}","{d}"', None, "! the end\n"), None),
    "one row a target": (broad("target (mm);up 1 (µm);down 1 (µm);up 2 (µm);down 2 (µm)\n", ";"), None),
    "one row a target, decimal commas, a mean below": (
        broad("Target [mm]\tforward [µm]\tbackward [µm]\tforward [µm]\tbackward [µm]\n", "\t", comma) + "mean\n", None),
    "in inches": (long("target [in];direction;run;error [in]\n",
                       lambda t, s, r, d: f"{t / 25.4!r};{s};{r};{d / 25400!r}"), None),
    "thousands apart, another sign": (long("target [µm];direction;run;error [µm]\n",
                                           lambda t, s, r, d: f"{t * 1000:,.1f};{s};{r};{-d}"),
                                      lambda found: replace(found, turned=True)),
}


@pytest.mark.parametrize("name", LAYOUTS)
def test_every_layout_gives_the_same_readings(name: str) -> None:
    text, told = LAYOUTS[name]
    found = guess(decoded(text.encode()), ("reversal",))
    if told is not None:
        found = told(found)
    assert lacking(found) == [], found
    reading = read_mapped(decoded(text.encode()), found)
    assert reading.kind == "reversal" and reading.source == "file"
    for array, truth, factor in ((reading.targets, TARGETS, 1e-3), (reading.up, UP, 1e-6), (reading.down, DOWN, 1e-6)):
        np.testing.assert_allclose(array, np.array(truth) * factor, rtol=1e-9, atol=6e-11)
    assert mapping_from(found.as_json()) == found, "remembered as it was"


def test_the_kind_is_seen_from_the_columns() -> None:
    kinds = ("reversal", "drift", "acceleration", "lengths")
    drift = "Clock;Deviation [µm]\n23:59:58;0,0\n23:59:59,5;0,4\n00:00:02;1,1\n"
    found = guess(drift, kinds)
    assert found.kind == "drift" and found.columns == (("time", "clock time"), ("deviation", "µm"))
    np.testing.assert_allclose(read_mapped(drift, found).time, (0, 1.5, 4))
    shaken = "t [ms]  ax [g]  ay [g]\n".replace("  ", "\t") + "0\t0.1\t0\n1\t0.2\t0.1\n2\t0.1\t0\n"
    found = guess(shaken, kinds)
    assert found.kind == "acceleration" and [role for role, _ in found.columns] == ["time", "values", "values"]
    assert read_mapped(shaken, found).values.shape == (3, 2)
    lengths = "commanded [mm],measured [mm]\n100,100.01\n200,200.03\n100,100.012\n200,200.028\n"
    found = as_kind(guess(lengths, kinds), "lengths")
    assert read_mapped(lengths, found).measured.shape == (2, 2)
    once = replace(as_kind(found, "travel"), columns=(("", ""), ("measured", "mm")), once={"commanded": 0.1})
    assert read_mapped(lengths, once).commanded == 0.1


@pytest.mark.parametrize(("text", "fault"), [
    ("target [mm];direction;run;error [µm]\n0;up;1;2,5\n1;up;1;3.5\n", "line 3, column 4: '3.5' is no number with a decimal comma"),
    ("target [mm];direction;run;error [µm]\n0;up;1;1\n0;sideways;1;1\n", "line 3: direction is 'sideways'"),
    ("target [mm];direction;run;error [µm]\n0;up;1;1\n1;up;1;1 bar\n", "line 3, column 4: '1 bar' is in no unit that fits"),
    ("target [mm];direction;run;error\n0;up;1;1\n", "Column 4: its unit is not said"),
    ("place [mm];direction;run;what\n0;up;1;1\n", "No column is the target"),
    ("target [mm];direction;run;error [µm]\n;up;1;1\n", "line 2: the target is missing"),
    ("target [mm];direction;run;error [µm]\n0;up;1;1\n1;up;1;1\n0;down;1;1\n", "repeat 1 down has 1 of 2 targets"),
    ("a word\nanother\n", "there is no row of numbers"), ("", "there is no row of numbers"),
])
def test_what_cannot_be_read_says_where(text: str, fault: str) -> None:
    with pytest.raises(BadFile, match=fault.replace("[", r"\[")):
        read_mapped(text, guess(text, ("reversal",)))


def test_bytes_of_any_origin_are_text_or_a_sentence() -> None:
    assert decoded("Weg [µm]".encode("cp1252")) == "Weg [µm]" == decoded("Weg [µm]".encode("utf-16"))
    with pytest.raises(BadFile, match="this is no text"):
        decoded(b"PK\x03\x04\x00\x00")
    assert guess("target,error\n1,2\n", ("reversal",)).columns == (("target", UNSAID), ("deviation", UNSAID))
    assert mapping_from({"kind": "none"}) is None and mapping_from([]) is None
    found = guess("target,error\n1,2\n", ("reversal",))
    assert all(mapping_from({**found.as_json(), name: ["a"]}) is None for name in ("kind", "delimiter", "decimal"))


@pytest.mark.parametrize("row", [",", '"', "1 ", "1;"])
def test_a_row_that_would_fill_the_memory_is_no_row(row: str) -> None:
    text = "commanded [mm],measured [mm]\n1,1.001\n" + row * 1_500_000
    for read in (lambda: guess(text, ("travel", "positioning")), lambda: parse_csv(text)):
        with pytest.raises(BadFile, match="line 3: it has [13][50]00000 characters; a row has at most 1000000"):
            read()


@pytest.mark.parametrize("line", [
    "# a" + " " * 400_000 + "b", "# note: x" + " " * 400_000, "#" + "\t" * 400_000, "# a: " + ",;" * 200_000], ids=range(4))
def test_a_line_before_the_table_is_read_in_one_go_however_it_is_filled(line: str) -> None:
    begun = time.thread_time()
    assert parse_csv(f"{line}\ncommanded [mm],measured [mm]\n400,399.8\n").measured[0] == pytest.approx(0.3998)
    assert time.thread_time() - begun < 2, "a pattern that looks again and again would take minutes"


@pytest.mark.parametrize("kind", sorted(READING_MODELS))
def test_a_set_of_any_kind_comes_back_from_its_csv_with_all_it_says(kind: str) -> None:
    """A holding series came back as moving, practice as real, what was struck out counted again."""
    rng, met = random.Random(kind), 0
    for _ in range(1500):
        data = reading(rng, [])
        if data["kind"] != kind or not data["source"]:
            continue
        data["conditions"] = {"microsteps": 8.0, "place of the sensor": "on the carriage"}
        data["note"] = rng.choice(("", "two lines\nand a \\ sign", "# odd: one"))
        with suppress(Refused):
            kept = READING_MODELS[kind].model_validate(data)
            table = next((one.name for one in kept.declared.columns if one.shape in ("rows", "list")), "")
            if table:
                struck = {f"{table}[0][0]" if getattr(kept, table).ndim == 2 else f"{table}[0]": "it was the door: shut"}
                with suppress(Refused):
                    kept = READING_MODELS[kind].model_validate({**data, "struck": struck})
            if not kept.source or (kind == "acceleration" and not kept.direction):
                continue
            text = export_csv(kept, linear=met % 2 == 0)
            assert met % 2 == 0 or not re.search(r"\[(m|N)(/s²?)?\]", text.replace("span [m]", "").replace("radius [m]", "")) or (
                kind in ("drag", "acceleration")), "a rotary axis is read in angles"
            again = parse_csv(text)
            met += 1
            for name in type(kept).model_fields:
                one, other = getattr(kept, name), getattr(again, name)
                if isinstance(one, np.ndarray):
                    np.testing.assert_allclose(other, one, rtol=1e-9)
                else:
                    assert (other or None) == (pytest.approx(one) if isinstance(one, float) else one or None), (name, one, other)
    assert met > 1
