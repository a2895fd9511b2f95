"""Every way in, fed with what should not be there: fields, CSV, parts, JSON and project files, from fixed seeds.

The rule is one: a sentence, or a value taken; never a traceback, never a changed project, never work lost.
"""

from __future__ import annotations

import json
import random
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLineEdit, QWidget
from tests.axis.test_vectors import ODD, places
from tests.driving import without_records

from urban_mule.cli import main
from urban_mule.core.sheet.stages import STAGES
from urban_mule.desk.frame.window import Window
from urban_mule.desk.kit.field import Field
from urban_mule.store.exchange.csv_readings import export_csv, parse_csv
from urban_mule.store.exchange.open_json import export_project, parse_project
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.file.salvage import salvage
from urban_mule.store.library.parts import parse_csv as parse_parts
from urban_mule.store.library.parts import parts_csv, shipped_parts
from urban_mule.store.solve import open_solution, solve_axis
from urban_mule.store.text_files import BadFile

NONSENSE = ("-1", "0", "1e400", "-1e-400", "nan", "inf", "abc", "3 kg kg", "1,2,3", "½", "--5", "1/0", "0x10", "９", "1e16", "٣",
            "5 ± 5 %", "5 ± 95 %", "5 ± x", "±", "12 furlong", "\t", "7 °C", "1.5", "-0", "999999999999999999999", "'; --",
            "<b>1</b>")


def told(why: BadFile) -> str:
    said = str(why)
    assert said.endswith(".") and "\n" not in said and "Traceback" not in said, said
    return said


@pytest.mark.every_axis
@pytest.mark.parametrize("axis", [1])
def test_whatever_is_typed_into_any_field_is_taken_or_answered(window: Window, qtbot: Any, axis: int) -> None:
    """Every line of every stage; what is refused stays in the field with a sentence and the document as it was."""
    rng, session = random.Random(axis), window.session
    session.show_axis(axis)
    typed = refused = 0
    for stage in STAGES:
        window.show_stage(stage)
        for place in range(len(lines(window.stage))):
            field = lines(window.stage)[place]
            assert isinstance(field.editor, QLineEdit)
            before, former = session.project, field.editor.text()
            for text in rng.sample(NONSENSE, 1):
                field.editor.setText(text)
                field.editor.setModified(True)
                field.commit()
                typed += 1
                if field.wrong.isHidden():
                    session.undo_stack.setIndex(0)
                    assert session.project is before, (field.given.name, text)
                    break  # taking a value may have made the stage anew
                refused += 1
                assert field.editor.text() == text and len(field.wrong.text()) > 5 and "\n" not in field.wrong.text()
                assert session.project is before, (field.given.name, text)
                qtbot.keyClick(field.editor, Qt.Key.Key_Escape)
                assert field.editor.text() == former and field.wrong.isHidden(), "Escape brings back what holds"
    assert typed > 50 and 0.3 < refused / typed < 1
    kept, shown = (export_project(without_records(one)) for one in (session.file.project(), before))
    assert kept == shown, "the file holds what the window shows"


def lines(stage: QWidget) -> list[Field]:
    """The fields of a stage that take text, as they stand now."""
    return [f for f in stage.findChildren(Field) if isinstance(f.editor, QLineEdit) and f.isVisible() and f.editor.isEnabled()]


@pytest.mark.every_axis
def test_the_demo_with_anything_changed_is_numbers_or_one_sentence(demo_copy: Path) -> None:
    """Four axes with followers, tolerances and readings; one to three values, keys or rows replaced."""
    text = json.dumps(light(demo_copy, keep=("travel", "reversal", "positioning")))
    rng, taken, refused = random.Random(4), 0, 0
    for _ in range(60):
        document = json.loads(text)
        for _ in range(rng.randint(1, 3)):
            holder, key = rng.choice(list(places(document)))
            holder[key] = rng.choice(ODD)
        try:
            changed = parse_project(json.dumps(document).encode())
        except BadFile as why:
            told(why)
            refused += 1
            continue
        for axis in changed.axes:
            json.dumps(open_solution(solve_axis(changed, axis)), allow_nan=False)
        taken += 1
    assert taken > 2 and refused > 20


def spoilt(text: str, rng: random.Random) -> str:
    """A text file as it comes: cells swapped for nonsense, rows cut, doubled, torn."""
    rows = text.splitlines()
    for _ in range(rng.randint(1, 3)):
        row = rng.randrange(len(rows))
        cells = rows[row].split(",")
        match rng.randrange(5):
            case 0:
                cells[rng.randrange(len(cells))] = rng.choice(NONSENSE)
            case 1:
                cells.insert(rng.randrange(len(cells)), "7")
            case 2:
                cells = cells[: rng.randrange(len(cells) + 1)]
            case 3:
                rows.insert(row, rows[row])
            case _:
                rows = rows[: row + 1]
        rows[min(row, len(rows) - 1)] = ",".join(cells)
    return "\n".join(rows)[: rng.choice((None, None, 40))]


def test_spoilt_readings_are_taken_or_named_by_line(demo_copy: Path) -> None:
    file = ProjectFile.open(demo_copy)
    texts = [export_csv(reading) for reading in file.project().axes[0].readings if reading.kind != "acceleration"]
    file.close()
    rng, refused = random.Random(8), 0
    for _ in range(150):
        try:
            reading = parse_csv(spoilt(rng.choice(texts), rng))
        except BadFile as why:
            refused += 1
            named = ("line ", "commanded", "measured", "gauge", "targets", "up ", "down", "speed", "acceleration", "returned",
                     "direction", "forces", "plus", "minus", "time", "temperature", "deviation", "places", "heights", "spacing",
                     "frequency", "span", "linear_mass", "force", "radius", "state")
            assert any(word in told(why) for word in named), str(why)
        else:
            assert reading.kind in {parse_csv(text).kind for text in texts}
    assert refused > 40


def test_spoilt_parts_lose_their_row_and_no_other(tmp_path: Path) -> None:
    parts = shipped_parts()[:40]
    text, rng = parts_csv(parts), random.Random(2)
    kept = 0
    for _ in range(60):
        try:
            read = parse_parts(spoilt(text, rng))
        except BadFile as why:
            told(why)
            continue
        kept = max(kept, len(read.parts))
        assert all(line.startswith("line ") and line.endswith(".") for line in read.refused)
        names = [part.name for part in read.parts]
        assert len(set(names)) == len(names)
        for part in read.parts:
            assert all(isinstance(value, str) or value == value for value in part.values.values())
    assert kept >= 37


@pytest.mark.parametrize("seed", [0, pytest.param(1, marks=pytest.mark.long)])
def test_a_project_file_torn_or_scratched_anywhere_is_opened_or_named(demo_copy: Path, tmp_path: Path, seed: int,
                                                                      capsys: pytest.CaptureFixture[str]) -> None:
    """Cut short, bytes overwritten, pages blanked: opened, or one sentence; and the file is left as it was."""
    raw, rng = demo_copy.read_bytes(), random.Random(seed)
    named = 0
    for n in range(6):
        bad = bytearray(raw)
        match n % 3:
            case 0:
                del bad[rng.randrange(200, len(bad)):]
            case 1:
                for _ in range(40):
                    bad[rng.randrange(16, len(bad))] = rng.randrange(256)
            case _:
                page = rng.randrange(1, len(bad) // 4096) * 4096
                bad[page : page + 4096] = bytes(4096)
        path = tmp_path / f"bad{n}.mule"
        path.write_bytes(bytes(bad))
        for attempt in (lambda path=path: opened(path), lambda path=path: salvage(path)):
            try:
                attempt()
            except BadFile as why:
                assert str(path) in told(why)
                named += 1
        assert path.read_bytes() == bytes(bad), "reading a damaged file changes nothing"
        assert main(["salvage", str(path)]) in (0, 2)
        assert "Traceback" not in capsys.readouterr().err
    assert named > 0


def opened(path: Path) -> None:
    file = ProjectFile.open(path)
    try:
        file.project()
        file.revisions()
        file.entries()
        file.applied()
    finally:
        file.close()


def light(path: Path, keep: tuple[str, ...] = ()) -> dict[str, Any]:
    """The demo as open JSON without the readings that take long."""
    file = ProjectFile.open(path)
    project = file.project()
    file.close()
    axes = tuple(axis.model_copy(update={"readings": tuple(r for r in axis.readings if r.kind in keep)}) for axis in project.axes)
    found: dict[str, Any] = json.loads(export_project(project.model_copy(update={"axes": axes})))
    return found


@pytest.mark.every_axis
@pytest.mark.long
def test_numbers_at_the_edge_of_what_is_allowed_solve_or_say_why(demo_copy: Path) -> None:
    """Every number of every axis pushed to 1e-300 or 1e15, by turns, a fifth of them: strict JSON comes out, whatever it means."""
    document = light(demo_copy)
    refused = pushed = 0
    for place in range(len(document["axes"])):
        alone = {key: value for key, value in document.items() if key != "readings"} | {"axes": [document["axes"][place]]}
        for holder, key in places(document["axes"][place]):
            was = holder[key]
            if not isinstance(was, (int, float)) or isinstance(was, bool):
                continue
            pushed += 1
            if (pushed + place) % 5:
                continue
            holder[key] = (1e-300, 1e15)[(pushed + place) // 5 % 2]
            try:
                changed = parse_project(json.dumps(alone).encode())
            except BadFile as why:
                told(why)
                refused += 1
            else:
                json.dumps(open_solution(solve_axis(changed, changed.axes[0])), allow_nan=False)
            holder[key] = was
    assert pushed > 200 and refused < pushed / 2, (refused, pushed)
