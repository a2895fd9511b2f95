"""Whole projects made at random from what the schema allows: whatever it takes is solved, shown and reported, or one sentence."""

from __future__ import annotations

import json
import math
import os
import random
import sys
import tempfile
from collections.abc import Callable
from contextlib import closing, suppress
from pathlib import Path
from typing import Any, get_args, get_origin

from urban_mule.core.readings.kind import Column
from urban_mule.core.sheet.given import Given
from urban_mule.core.sheet.stages import STAGES
from urban_mule.core.train.links import LINKS
from urban_mule.desk.app import application
from urban_mule.desk.frame.window import Window
from urban_mule.desk.model.session import Session
from urban_mule.desk.out.report import Report
from urban_mule.store import fault_log
from urban_mule.store.document.base import Strict
from urban_mule.store.document.faults import Refused
from urban_mule.store.document.made import LINK_MODELS, MOTOR_MODELS
from urban_mule.store.document.pairs import PAIR_MODELS
from urban_mule.store.document.parts import MoveModel
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.document.readings import READING_MODELS
from urban_mule.store.document.spindles import SpindleModel
from urban_mule.store.exchange.open_json import export_project, parse_project
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.solve import open_solution, solve_axis, solve_subject
from urban_mule.store.text_files import BadFile

WORDS = ("", "a", "scale on the rail", "ü – 3 µm", "<b>x</b>", "x" * 60, "2026-10-16T10:00:00+00:00", "=1+1")
DAYS = ("2026-09-01T08:00:00+00:00", "2026-10-16T10:00:00+00:00", "2026-10-16T10:00:00", "", "yesterday")
NAMES = ("X", "Y", "Z", "C", "U", "head slide")
PLAIN = ("readings", "spindles", "decisions", "safety", "parts", "gauges")
SEEN = int(os.environ.get("URBAN_MULE_SEEN", "60"))  # every so many projects are shown in the window, stage by stage


def number(rng: random.Random, given: Given) -> Any:
    """A value that a given allows: mostly of a machine's size, now and then at its ends."""
    if given.choices:
        return rng.choice(given.choices)
    low = given.above if given.above is not None else given.least
    least, most = -1e3 if low is None else low, min(1e3 if given.most is None else given.most, 1e15)
    if rng.random() < 0.05:
        value = rng.choice((least, most, 0.0, 1e-12, 1e15))
    elif least >= 0:
        value = math.exp(rng.uniform(math.log(max(least, 1e-5)), math.log(max(most, 1e-4))))
    else:
        value = rng.uniform(max(least, -10.0), min(most, 10.0))
    value = min(max(value, least if given.above is None else least + 1e-9 * max(1.0, abs(least))), most)
    return round(value) if given.whole else value


def made(rng: random.Random, model: type[Strict], full: float) -> dict[str, Any]:
    """Values for the fields of a part of the document; what need not be there is there with the share `full`."""
    found = {}
    for name, field in model.model_fields.items():
        if name == "tolerances":
            numbers = [one for one, of in model.givens.items() if one in found and not of.choices and not of.whole]
            found[name] = {one: rng.uniform(0.01, 0.5) for one in rng.sample(numbers, min(2, len(numbers)))} or None
        elif name == "usual":
            found[name] = tuple([one for one in found if one in model.givens][:1]) or None
        elif field.is_required() or rng.random() < full:
            found[name] = number(rng, model.givens[name]) if name in model.givens else value_for(rng, name, field.annotation, full)
    return {name: value for name, value in found.items() if value is not None}


def value_for(rng: random.Random, name: str, kind: Any, full: float) -> Any:
    """A value for a field by what it is annotated with; None where nothing is known of it."""
    arguments, origin = get_args(kind), get_origin(kind)
    if isinstance(kind, type) and issubclass(kind, Strict):
        return made(rng, kind, full)
    if origin is tuple:
        return [one for _ in range(rng.randint(0, 4)) if (one := value_for(rng, name, arguments[0], full)) is not None]
    if origin is not None and arguments and not any(isinstance(one, str) for one in arguments):
        models = [one for one in arguments if one is not type(None)]
        return value_for(rng, name, rng.choice(models), full) if models else None
    if arguments:
        return rng.choice(arguments)
    if kind is bool:
        return rng.random() < 0.5
    return rng.choice(DAYS if name in ("taken", "since", "put_back", "ordered", "arrived") else WORDS) if kind is str else None


def column(rng: random.Random, one: Column, wide: int) -> Any:
    """Numbers, texts or tables for a column of a set of readings."""
    size = 10 ** rng.uniform(-7, 1)
    numbers = sorted(rng.uniform(0, 1) for _ in range(wide))
    match one.shape:
        case "list" if one.name in ("stage", "sang"):
            return [rng.randrange(2) for _ in range(wide)]
        case "list":
            return [size * one_ for one_ in numbers]
        case "rows":
            rows, same = range(rng.randint(1, 6)), rng.choice((0.0, size))
            if rng.random() < 0.15:  # a gauge that shows the same everywhere
                return [[same] * wide for _ in rows]
            return [[rng.choice((rng.gauss(0, size), rng.gauss(0, size), 0.0)) for _ in range(wide)] for _ in rows]
        case "text":
            return rng.choice(TEXTS_OF.get(one.name, ("plus", "minus", "both", "moving", "holding", "")))
        case _:
            return size


TEXTS_OF = {"shaped": (*[""] * 5, "none", "ZV+ZV"), "of": ("", "position", "speed")}


def reading(rng: random.Random, axis_names: list[str]) -> dict[str, Any]:
    """A set of readings, its tables with as many rows as chance will have."""
    kind = rng.choice([*READING_MODELS])
    wide = rng.choice((1, 2, 3, 5, 11, 40))
    told = {name: rng.choice(WORDS) for name in ("note", "gauge", "aside") if rng.random() < 0.2}
    columns = {one.name: column(rng, one, wide) for one in READING_MODELS[kind].declared.columns
               if one.shape in ("list", "rows") or rng.random() < 0.6}
    source = rng.choice(("typed", "file", "device", "practice", ""))
    return {"kind": kind, "taken": rng.choice(DAYS), "source": source, **told, **columns}


def taken(model: Any, make: Callable[[], dict[str, Any]], tries: int = 12) -> dict[str, Any] | None:
    """What is made and the schema takes; None where it takes none of so many."""
    for _ in range(tries):
        data = make()
        with suppress(Refused, ValueError):
            model.model_validate(data)
            return data
    return None


def train(rng: random.Random, motion: str, full: float) -> list[dict[str, Any]] | None:
    """A train that turns into travel where the axis runs, and does not where it turns."""
    turning = [kind for kind, record in LINKS.items() if record.turns_into_travel]
    others = [kind for kind in LINKS if kind not in turning and (kind != "direct" or motion == "rotary")]
    kinds = [rng.choice(others) for _ in range(rng.choice((0, 0, 1, 2, 4)))] + ([rng.choice(turning)] if motion == "linear" else [])
    links = [taken(LINK_MODELS[kind], lambda kind=kind: {**made(rng, LINK_MODELS[kind], full), "kind": kind}) for kind in kinds]
    found = [one for one in links if one is not None]
    return found or None


def moves(rng: random.Random) -> list[dict[str, Any]] | None:
    """A cycle of no move, or of some."""
    count = rng.choice((0, 1, 2, 4, 7))
    found = [taken(MoveModel, lambda: made(rng, MoveModel, rng.choice((0.0, 0.3, 0.9)))) for _ in range(count)]
    return [one for one in found if one is not None] or None


def axis(rng: random.Random, name: str) -> dict[str, Any] | None:
    """An axis of any kind."""
    full = rng.choice((0.3, 0.6, 0.9))
    motion = rng.choice(("linear", "linear", "rotary"))
    kind = rng.choice([*MOTOR_MODELS])
    motor = taken(MOTOR_MODELS[kind], lambda: {**made(rng, MOTOR_MODELS[kind], full), "kind": kind})
    parts: dict[str, Any] = {"motion": motion, "name": name, "train": train(rng, motion, full), "cycle": moves(rng), "motor": motor,
                             "readings": []}
    found = taken(Axis, lambda: {**made(rng, Axis, full), **parts}, 60)
    if found is not None:
        sets = (taken(READING_MODELS[one["kind"]], lambda one=one: one, 1)
                for one in (reading(rng, []) for _ in range(rng.randint(0, 12))))
        found["readings"] = [one for one in sets if one is not None]
    return found


def pair(rng: random.Random, kind: str, linear: list[str]) -> dict[str, Any]:
    """A reading of two axes: a circle, diagonals or a square piece."""
    found = {**made(rng, PAIR_MODELS[kind], 0.8), "kind": kind, "axes": rng.sample(linear, 2)}
    for way in ("x", "y") if kind == "piece" else ():
        count = rng.choice((1, 2, 5))
        found[way] = {name: [rng.uniform(0.01, 0.5) for _ in range(count)] for name in ("nominal", "measured")}
    for way in ("clockwise", "counterclockwise"):
        found.pop(way, None)
        if kind == "circle" and rng.random() < 0.8:
            count = rng.choice((1, 4, 12, 72))
            found[way] = {"angle": sorted(rng.uniform(0, math.tau) for _ in range(count)),
                          "deviation": [rng.gauss(0, 1e-5) if rng.random() < 0.9 else 0.0 for _ in range(count)]}
    return found


def random_project(rng: random.Random) -> Project:
    """A project that the schema takes."""
    while True:
        axes = [one for name in rng.sample(NAMES, rng.randint(1, 4)) if (one := axis(rng, name)) is not None]
        whole = {**made(rng, Project, 0.5), "format": "urban-mule/1", "axes": axes}
        whole.pop("hidden", None)
        linear = [one["name"] for one in axes if one.get("motion", "linear") == "linear"]
        turning = [taken(SpindleModel, lambda n=n: {**made(rng, SpindleModel, 0.7), "name": f"S{n}"})
                   for n in range(rng.randint(0, 2))]
        whole["spindles"] = [one for one in turning if one is not None]
        kinds = [rng.choice([*PAIR_MODELS]) for _ in range(rng.randint(0, 3) if len(linear) > 1 else 0)]
        pairs = [taken(PAIR_MODELS[kind], lambda kind=kind, linear=linear: pair(rng, kind, linear)) for kind in kinds]
        whole["readings"] = [one for one in pairs if one is not None]
        for lacking in ((), ("readings",), ("readings", "spindles"), PLAIN):
            with suppress(BadFile):
                return parse_project(json.dumps({key: value for key, value in whole.items() if key not in lacking}).encode())


def random_projects(folder: Path, count: int, seed: int) -> str:
    """So many projects through `solve`, the file, the states of the window, and the report. Raises whatever any of it raises."""
    kept = application()
    rng, axes, readings, turning, seen = random.Random(seed), 0, 0, 0, 0
    faults, hook = list[str](), sys.excepthook
    sys.excepthook = lambda kind, error, _trace: faults.append(f"{kind.__name__}: {error}")  # of what Qt calls
    try:
        for n in range(count):
            project = random_project(rng)
            try:
                _through(project, folder / f"{n}.mule", n % SEEN == SEEN - 1)
                log = fault_log.fault_log()
                assert not faults and not log.exists(), faults or log.read_text(encoding="utf-8")[-1500:]
            except Exception as why:
                failed = Path(tempfile.gettempdir()) / "failed-project.json"
                failed.write_text(export_project(project), encoding="utf-8")
                raise AssertionError(f"project {n}: {type(why).__name__}: {why}; it is kept as {failed}") from why
            axes += len(project.axes)
            readings += sum(len(one.readings) for one in project.axes)
            turning += len(project.spindles or ())
            seen += n % SEEN == SEEN - 1
    finally:
        sys.excepthook = hook
    kept.processEvents()
    return f"{count} projects, {axes} axes, {readings} readings, {turning} spindles, {seen} seen in the window: no traceback"


def _through(project: Project, path: Path, in_window: bool) -> None:
    for one in project.axes:
        json.dumps(open_solution(solve_axis(project, one)), allow_nan=False)
    for spindle in project.spindles or ():
        json.dumps(open_solution(solve_subject(project, spindle)), allow_nan=False)
    with closing(ProjectFile.create(path, project)) as file:
        assert len(file.project().axes) == len(project.axes)
    session = Session(ProjectFile.open(path))
    window = Window(session) if in_window else None
    try:
        assert "</html>" in Report(session).html()
        if window is not None:
            window.show()
            for stage in STAGES:
                window.show_stage(stage)
                window.stage.finish()
                for word in window.stage.leaves.all_words:
                    window.stage.leaves.turn(word)
                    window.stage.picture.bring_up_to_date()
                    window.stage.picture.grab()
    finally:
        if window is None:
            session.close()
        else:
            window.close()
            window.deleteLater()
        path.unlink(missing_ok=True)
