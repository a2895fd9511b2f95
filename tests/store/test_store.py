"""The project file, the CSV layouts, edits: nothing lost, nothing half-taken, every fault one sentence."""

from __future__ import annotations

import os
import random
import signal
import sqlite3
import subprocess
import sys
import time
from pathlib import Path

import numpy as np
import pytest
from tests.places import whose

from urban_mule.core.sheet.given import BadValue
from urban_mule.demo.courtyard import demo_project
from urban_mule.store.document.edit import at, edited
from urban_mule.store.document.plain import plain, reading_parts
from urban_mule.store.exchange.csv_readings import export_csv, parse_csv, read_csv
from urban_mule.store.exchange.open_json import export_project
from urban_mule.store.file.project_file import ProjectFile, Where
from urban_mule.store.file.rows import packed
from urban_mule.store.file.salvage import salvage
from urban_mule.store.solve import open_solution, solve_axis
from urban_mule.store.text_files import BadFile

WRITER = """
import sys
from pathlib import Path
from urban_mule.store.document.edit import edited
from urban_mule.store.file.project_file import ProjectFile, Where
from urban_mule.store.file.rows import packed
file = ProjectFile.open(Path(sys.argv[1]))
project = file.project()
for n in range(100_000):
    project = edited(project, ("axes", 0, "moving_mass"), 1.0 + n)
    file.commit(project, f"edit {n}")
    print(n, flush=True)
"""


@pytest.mark.long
def test_killing_the_process_many_times_loses_nothing_that_was_shown_as_saved(tmp_path: Path) -> None:
    rng, path = random.Random(3), tmp_path / "killed.mule"
    reading = parse_csv("commanded [mm],measured [mm]\n400,399.8\n")
    ProjectFile.create(path, edited(demo_project(), ("axes", 0, "readings"), (reading,))).close()
    for _ in range(4):
        process = subprocess.Popen([sys.executable, "-c", WRITER, str(path)], stdout=subprocess.PIPE, text=True)
        assert process.stdout is not None
        process.stdout.readline()
        time.sleep(rng.uniform(0.0, 0.12))
        os.kill(process.pid, signal.SIGKILL)
        said = process.stdout.read().split()
        process.wait()
        process.stdout.close()
        file = ProjectFile.open(path)
        kept = file.project()
        assert kept.axes[0].moving_mass >= 1.0 + (int(said[-1]) if said else 0)
        assert kept.axes[0].readings[0].measured.tolist() == pytest.approx([0.3998])
        file.close()


def test_history_readings_applied_values_and_log_come_back(demo_copy: Path) -> None:
    file = ProjectFile.open(demo_copy)
    revisions = file.revisions()
    assert [r.label for r in revisions][:2] == ["begun", "X: pulley counted, 24 teeth"]
    first, last = file.project(revisions[0].id), file.project()
    assert first.axes[0].train[1].teeth == 20 and last.axes[0].train[1].teeth == 24
    assert [r.kind for r in last.axes[0].readings] == [
        "travel", "reversal", "acceleration", "push", "positioning",
        "travel", "reversal", "acceleration", "tone", "push", "positioning", "ladder",
        *["drag", "homing", "lengths", "ripple", "drift", "warming", "reversal"]]
    x = Where(whose(file))
    assert file.applied()[x]["steps_per_unit"].value == pytest.approx(400 / 9), "set before anything was measured"
    file.apply(x.subject, {"steps_per_unit": 400 / 9}, {"microsteps": 16})
    file.write_entry(x.subject, "note", "checked")
    copy = demo_copy.with_name("copy.mule")
    file.copy_to(copy)
    file.close()
    again = ProjectFile.open(copy)
    assert again.applied()[x]["steps_per_unit"].value == pytest.approx(400 / 9)
    assert "checked" in {entry.text for entry in again.entries()}
    assert export_project(again.project()) == export_project(last)
    again.close()


@pytest.mark.long
def test_the_demo_is_made_the_same_every_time(demo_file: Path, tmp_path: Path) -> None:
    from urban_mule.demo.courtyard import build_demo

    twin = build_demo(tmp_path / "twin.mule")
    file = ProjectFile.open(demo_file)
    assert export_project(twin.project()) == export_project(file.project())
    solution = solve_axis(twin.project(), twin.project().axis("X"))
    found = open_solution(solution)
    assert found["quantities"]["backlash"] == pytest.approx(solution["expected_lost_motion"], rel=0.3)
    assert found["quantities"]["resonances"][0]["frequency"] == pytest.approx(solution["first_resonance"], rel=0.05)
    assert {v["level"] for v in found["verdicts"]} >= {"good", "tight"}
    twin.close()
    file.close()


def test_files_that_are_no_projects_or_damaged_are_named_and_left_alone(demo_copy: Path, tmp_path: Path) -> None:
    wrong = tmp_path / "wrong.mule"
    wrong.write_bytes(b"not a database at all")
    other = tmp_path / "other.mule"
    with sqlite3.connect(other) as db:
        db.execute("create table t (a)")
    db.close()
    newer = tmp_path / "newer.mule"
    newer.write_bytes(demo_copy.read_bytes())
    with sqlite3.connect(newer) as db:
        db.execute("pragma user_version = 99")
    db.close()
    raw = demo_copy.read_bytes()
    torn = tmp_path / "torn.mule"
    torn.write_bytes(raw[: len(raw) * 2 // 3])
    for path, fault in ((wrong, "not a project file"), (other, "not a project file"), (newer, "newer release"),
                        (tmp_path / "gone.mule", "no such file"), (torn, "damaged")):
        before = path.read_bytes() if path.exists() else b""
        with pytest.raises(BadFile, match=fault) as why:
            ProjectFile.open(path)
        assert str(path) in str(why.value) and "\n" not in str(why.value)
        assert (path.read_bytes() if path.exists() else b"") == before
    with pytest.raises(BadFile, match="there is a file already"):
        ProjectFile.create(demo_copy, demo_project())


def test_salvage_takes_the_newest_document_that_can_be_read(demo_copy: Path) -> None:
    with sqlite3.connect(demo_copy) as db:
        db.execute("update revision set document = substr(document, 1, 50) where id = (select max(id) from revision)")
        db.execute("delete from reading where kind = 'acceleration'")
    db.close()
    with pytest.raises(BadFile, match="is damaged: .* “urban-mule salvage courtyard.mule” saves what can still be read"):
        ProjectFile.open(demo_copy).project()
    saved = salvage(demo_copy)
    assert saved.axes[0].train[1].teeth == 24 and "acceleration" not in {r.kind for r in saved.axes[0].readings}


def test_edits_keep_what_they_do_not_touch_and_refuse_with_a_sentence() -> None:
    project = demo_project()
    after = edited(project, ("axes", 0, "motor", "holding_torque"), 2.4)
    assert after.axes[0].motor.holding_torque == 2.4 and project.axes[0].motor.holding_torque == 2.1
    assert after.axes[1] is project.axes[1] and after.axes[0].train[1] is project.axes[0].train[1]
    assert at(project, ("axes", 0, "train", 1, "teeth")) == 24
    for path, value, fault in ((("axes", 0, "motor", "holding_torque"), -1.0, "allowed is a number above 0 N·m"),
                               (("axes", 0, "name"), "Y", "which another axis has already"),
                               (("axes", 0, "train", 1, "teeth"), 24.5, "a whole number"),
                               (("axes", 0, "cycle", 0, "distance"), 0.0, "not zero")):
        with pytest.raises(BadValue, match=fault):
            edited(project, path, value)


def test_readings_survive_csv_in_every_layout(demo_file: Path) -> None:
    file = ProjectFile.open(demo_file)
    for reading in file.project().axes[0].readings[:4]:
        again = parse_csv(export_csv(reading), reading.kind)
        said = {"note", "taken", "device", "direction", "source", "gauge"}
        one, other = ({k: v for k, v in plain(r).items() if k not in said} for r in (reading, again))
        assert one == other
    file.close()


def test_a_long_record_is_read_and_written_in_pieces_as_row_by_row() -> None:
    """The quick way for plain numbers against the careful one, which a quoted cell and an empty line at the top ask for."""
    rng = np.random.default_rng(4)
    values = rng.standard_normal((9001, 3))
    rows = [";".join([str(n / 2), *(f"{v:.7g}" for v in row)]).replace(".", ",") for n, row in enumerate(values)]
    head, body = "time [ms];x [g];y [mm/s²];z\n", "\n".join(rows[:-1])
    *start, last = rows[-1].split(";")
    quick, quoted, later = map(parse_csv, (
        f"{head}{body}\n{rows[-1]}\n", f'{head}{body}\n{";".join(start)};"{last}"', f"\n{head}{body}\n{rows[-1]}"))
    for other in (quoted, later):
        assert np.array_equal(quick.time, other.time) and np.array_equal(quick.values, other.values)
    assert np.allclose(quick.values, values * [9.80665, 1e-3, 1.0], rtol=1e-6) and quick.time[-1] == pytest.approx(4.5)
    _, data, numbers = packed(*reading_parts(quick))
    assert len(numbers) == 8 * (quick.time.size + quick.values.size) and len(data) < 400


def test_csv_as_people_write_it() -> None:
    german = "target [mm];direction;repeat;deviation [µm]\n" + "\n".join(
        f"{t};{d};{r};{v}" for r in (1, 2) for d, v in (("up", "1,5"), ("down", "-2,5")) for t in ("10,0", "20,0"))
    reading = parse_csv(german, "reversal")
    assert reading.kind == "reversal" and np.allclose(reading.targets, [0.01, 0.02]) and np.allclose(reading.down, -2.5e-6)
    inches = parse_csv("time (ms)\tx [g]\n0\t0,1\n1\t0,2\n2\t0,1\n")
    assert np.allclose(inches.time, [0, 1e-3, 2e-3]) and inches.values[1, 0] == pytest.approx(0.2 * 9.80665)
    travel = parse_csv("commanded [mm],measured [mm],gauge_uncertainty [µm]\n400,399.8,15\n400,399.81,\n")
    assert travel.commanded == 0.4 and travel.gauge_uncertainty == pytest.approx(15e-6) and travel.measured.size == 2


@pytest.mark.parametrize(("text", "fault"), [
    ("", "line 1: the file is empty"),
    ("time [s],a [m/s²]\n", "line 2: there is no row"),
    ("time [s],a [furlong]\n0,1\n", "line 1: 'a \\[furlong\\]' is no column"),
    ("time [s],a [m/s²]\n0,1\n1,x\n", "line 3: a is 'x'"),
    ("time [s],a [m/s²]\n0,1\n1,nan\n", "line 3: a is 'nan'; a finite number"),
    ("time [s],a [m/s²]\n0,1\n0,2\n", "time does not rise at sample 1"),
    ("time [s],a,b\n0\n1\n", "line 2: a value is missing; each row needs a time"),
    ("time [s],a [m/s²]\n0,1,7\n", "line 2: 3 columns where the first row names 2"),
    ("colour,shape\n1,2\n", "line 1: the columns are colour, shape; allowed are"),
    ("target [mm],direction,repeat,deviation [µm]\n1,sideways,1,2\n", "line 2: direction is 'sideways'"),
    ("target [mm],direction,repeat,deviation [µm]\n1,up,1,2\n2,up,1,2\n1,down,1,2\n", "has 1 of 2 targets"),
    ("target [mm],direction,repeat,deviation [µm]\n1,up,1,\n", "line 2: a value is missing"),
    ("commanded [mm],measured [mm]\n400,1\n300,2\n", "commanded holds several values"),
    ("commanded [mm],measured [mm]\n0,1\n", "commanded is 0"),
    ("commanded [mm],measured [mm]\n,1\n", "commanded holds no value"),
    ("commanded [mm],measured [s]\n400,1\n", "line 1: 'measured \\[s\\]' is no column with a unit that fits; known units are m,"),
    ("time [mm],a [m/s²]\n0,1\n", "known units are s, ms"),
    ("target [mm],direction [mm],repeat,deviation [µm]\n1,up,1,2\n", "it has none"),
    ("target [mm],direction,repeat,deviation [µm]\n\n1,up,1.5,2\n", "line 3: repeat is 1.5; a whole number is needed"),
    ("target [mm],direction,repeat,deviation [µm]\n1,up,1,2\n1,up,1,3\n", "line 3: repeat 1 up has this target already"),
])
def test_bad_csv_is_one_sentence_with_its_line(text: str, fault: str, tmp_path: Path) -> None:
    path = tmp_path / "bad.csv"
    path.write_text(text, encoding="utf-8")
    with pytest.raises(BadFile, match=fault) as why:
        read_csv(path)
    assert str(path) in str(why.value) and "\n" not in str(why.value)


def test_csv_in_another_encoding_or_missing(tmp_path: Path) -> None:
    path = tmp_path / "latin.csv"
    path.write_bytes("time [s],a [m/s²]\n0,1\n".encode("latin-1"))
    with pytest.raises(BadFile, match="not UTF-8"):
        read_csv(path)
    with pytest.raises(BadFile, match="cannot be read"):
        read_csv(tmp_path / "gone.csv")


def test_a_kept_demo_that_is_damaged_or_cannot_be_kept_is_built_again(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    from urban_mule.demo import courtyard, kept

    built: list[Path] = []

    def build(path: Path) -> ProjectFile:
        built.append(path)
        return ProjectFile.create(path, courtyard.demo_project())

    monkeypatch.setattr(courtyard, "build_demo", build)
    monkeypatch.setattr(kept, "cache_place", lambda name: tmp_path / "cache" / name)
    for n in range(2):
        kept.demo_at(tmp_path / f"{n}.mule").close()
    assert built == [tmp_path / "0.mule"], "the second is a copy"
    one, = (tmp_path / "cache").iterdir()
    one.write_bytes(one.read_bytes()[:5000])
    kept.demo_at(tmp_path / "2.mule").close()
    monkeypatch.setattr(kept, "cache_place", lambda name: Path("/proc/nowhere") / name)
    kept.demo_at(tmp_path / "3.mule").close()
    assert built[1:] == [tmp_path / "2.mule", tmp_path / "3.mule"]
