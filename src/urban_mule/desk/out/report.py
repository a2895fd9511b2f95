"""The report as PDF and HTML, and the tags to hang on the machine."""

from __future__ import annotations

import base64
from collections import deque
from collections.abc import Callable, Iterator, Mapping
from dataclasses import replace
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QSize, QTimer
from PyQt6.QtGui import QPageLayout

from urban_mule.core.sheet.quantity import Unknown
from urban_mule.core.sheet.shown import solved_text, uncertainty_of, value_text
from urban_mule.core.sheet.stages import STAGES, StageName
from urban_mule.core.sheet.verdict import LEVELS
from urban_mule.core.sheet.working import Working, working_of
from urban_mule.core.sheet.working import value_text as structure_text
from urban_mule.core.subjects import as_looked_up
from urban_mule.desk.kit.leaves import Leaves
from urban_mule.desk.kit.theme import theme
from urban_mule.desk.model.session import Session
from urban_mule.desk.model.words import state_word
from urban_mule.desk.out.machine import machine_section, spindle_states
from urban_mule.desk.out.printing import filled, print_html
from urban_mule.desk.shared.promised import Standard, promised, standards
from urban_mule.desk.stages.registry import SPECS
from urban_mule.store.document.project import Axis, Project, from_practice
from urban_mule.store.file.project_file import now
from urban_mule.store.settings import follower_settings, settings_of
from urban_mule.store.state.axis_state import AxisState
from urban_mule.store.subject_settings import spindle_settings
from urban_mule.store.text_files import write_whole

DECIDING = ("peak_torque", "working_margin", "rms_torque", "continuous_margin", "inertia_ratio", "temperature_rise",
            "steps_per_unit", "backlash", "positioning_accuracy")
PICTURE = QSize(900, 330)
PICTURED: tuple[StageName, ...] = ("Load", "Motor", "Proof", "Ring", "Slack", "Scale", "Drive")
MOST_PICTURES = 4  # of an axis: the first that say something
MOST_OPEN = 5  # open matters on the page of an axis; the rest stands in the appendix


def picture_png(session: Session, state: AxisState, stage: StageName) -> bytes:
    """The picture of a stage for one axis as PNG, at the size of the report."""
    leaves = Leaves(session, SPECS[stage].leaves)
    leaves.resize(PICTURE)
    leaves.begin()
    picture = leaves.picture
    picture.of = state
    picture.resize(PICTURE)
    picture.bring_up_to_date()
    picture.ensurePolished()
    raw = QByteArray()
    buffer = QBuffer(raw)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    picture.grab().save(buffer, "PNG")
    leaves.deleteLater()
    return bytes(raw.data())


def states_of(session: Session) -> list[AxisState]:
    """Every axis as it is now, its numbers its own, so that they can be read in another thread."""
    states = [session.state_of(axis) for axis in session.project.axes]
    return [replace(state, solution=state.solution.own()) for state in states]


def pictures_of(session: Session, states: list[AxisState], found: dict[tuple[str, StageName], bytes]) -> Iterator[None]:
    """Draw the pictures of a report into `found`, one a step: they can only be drawn in the window's thread."""
    for state in states:
        known = [stage for stage in PICTURED if any(v.level != "unknown" for v in state.verdicts(stage))]
        for stage in known[:MOST_PICTURES]:
            found[state.id, stage] = picture_png(session, state, stage)
            yield


def axis_section(
    state: AxisState, drawn: Mapping[tuple[str, StageName], bytes], standard: Standard, project: Project
) -> dict[str, Any]:
    """What the report says of an axis: a page, its stages with every check, its workings. standard: how sure they are."""
    stages = []
    for stage in STAGES:
        known = sorted((v for v in state.verdicts(stage) if v.level != "unknown"), key=lambda v: -LEVELS.index(v.level))
        if known:
            practice = any(from_practice(state.axis, kind) for kind in SPECS[stage].readings)
            stages.append({"stage": stage, "verdicts": known, "practice": practice})
    attention = [v for v in sorted(state.verdicts(), key=lambda v: -LEVELS.index(v.level)) if v.level in ("short", "tight")]
    worst = state.worst()
    pictures = [(stage, base64.b64encode(drawn[state.id, stage]).decode()) for stage in PICTURED if (state.id, stage) in drawn]
    deciding = max(attention, key=lambda v: LEVELS.index(v.level), default=None) or state.headline("Motor")
    workings = workings_of(state, standard)
    rows = [(workings[name]["label"], workings[name]["value"], workings[name]["number"]) for name in DECIDING if name in workings
            and not isinstance(state.solution.find(name), Unknown)]
    return {"name": state.axis.name, "moved_with": _moved_with(state.axis, project),
            "state": state_word("unknown" if worst is None else worst.level), "pictures": pictures,
            "verdict": deciding, "proof": state.headline("Proof"), "stages": stages, "deciding": rows,
            "tag": settings_of(state), "attention": attention[:MOST_OPEN], "more": max(0, len(attention) - MOST_OPEN),
            "workings": list(workings.values()), "missing": [state.solution.label(name) for name in as_looked_up(state.missing())],
            "unknown": [v for v in state.verdicts() if v.level == "unknown"]}


def _moved_with(axis: Axis, project: Project) -> str:
    """Of an axis of a pair, with which other one it shares its motors; else nothing."""
    fellow = project.fellow_of(axis)
    if fellow is None:
        return ""
    one, other = project.motor_of(axis), project.motor_of(fellow)
    return (f"Motor {one}, entered here, and motor {other}, entered on {fellow.name}, move both axes together: peak torque and"
            " speed are those of one motor with both axes at their hardest.")


def workings_of(state: AxisState, standard: Standard) -> dict[str, dict[str, str]]:
    """Each quantity behind the deciding numbers once, with a number by which the others refer to it."""
    rows: dict[str, Working] = {}
    for name in DECIDING:
        if name in state.sheet.quantities and not isinstance(state.solution.find(name), Unknown):
            rows |= {row.name: row for row in working_of(state.solution, name) if row.name not in rows}
    numbers = {name: f"{state.axis.name}-{place}" for place, name in enumerate(rows, start=1)}
    return {name: {
        "number": numbers[name], "label": state.sheet.label(name), "value": _said(state, row, standard(row.name)),
        "source": row.source,
        "formula": f"{row.symbol} = {row.formula}" if row.formula and row.formula != row.symbol else "",
        "from": ", ".join(numbers[one] for one in row.parameters)} for name, row in rows.items()}


def _said(state: AxisState, row: Working, standard: float | None) -> str:
    """The value of a row as people read it, in the units of the project, with how sure it is; what is no number in a few words."""
    if isinstance(row.value, (float, int)):
        if standard or uncertainty_of(row.name) in state.sheet.quantities:
            return str(solved_text(state.solution, row.name, state.system, state.axis.unit, standard))
        return str(value_text(state.sheet, row.name, row.value, state.system, 4, state.axis.unit))
    return structure_text(row)


class Report:
    """A report of a project as it is when it is asked for: its pictures are drawn first, the rest can be done in any thread."""

    def __init__(self, session: Session) -> None:
        self.project, self.entries, self.revision = session.project, list(session.entries()), session.revision
        self.names = session.saving.names
        self.palette = theme.palette
        self.states = states_of(session)
        self.machine = machine_section(session, now().date())
        self._drawn: dict[tuple[str, StageName], bytes] = {}
        self.steps = pictures_of(session, self.states, self._drawn)

    def html(self) -> str:
        """The whole report as HTML."""
        return filled("report.html", project=self.project, axes=[
            axis_section(state, self._drawn, standards(self.project, state), self.project) for state in self.states],
                       machine=self.machine, names=self.names, revision=self.revision, palette=self.palette,
                       entries=sorted(self.entries, key=lambda one: one.time))

    def write(self, path: Path) -> Path:
        """The report as PDF at `path` and as HTML beside it. Raises BadFile."""
        html = self.html()
        write_whole(path.with_suffix(".html"), html)
        print_html(html, path.with_suffix(".pdf"), QPageLayout.Orientation.Portrait)
        return path


def write_report(session: Session, path: Path) -> None:
    """The report as PDF at `path` and as HTML beside it, at once. Raises BadFile."""
    report = Report(session)
    deque(report.steps, maxlen=0)
    report.write(path)


def begin_report(session: Session, path: Path) -> None:
    """The same while the window goes on: a picture each turn of the event loop, the rest in a thread; then it is told."""
    report = Report(session)
    turn = QTimer(session, interval=0)

    def step() -> None:
        try:
            next(report.steps)
        except StopIteration:
            turn.stop()
            turn.deleteLater()
            session.works.run("the report", session, lambda _progress: report.write(path),
                              lambda done: session.told.emit(f"{done}: the report is written."))

    turn.timeout.connect(step)
    turn.start()


def tags_work(session: Session, path: Path) -> Callable[[], Path]:
    """What writes the tags of all axes as they are now, two to a page, as PDF; it may run in any thread and raises BadFile."""
    project, revision = session.project, session.revision
    states = [(state, session.follower_of(state.axis)) for state in states_of(session)]
    turning = [{"name": state.axis.name, "rows": spindle_settings(state), "holds": []} for state in spindle_states(session)]

    def work() -> Path:
        tags = [tag for state, follower in states for tag in (
            {"name": project.motor_name(state.axis), "rows": settings_of(state),
             "holds": promised(state, standards(project, state))},
            *([] if follower is None else [
                {"name": f"{state.axis.name} follower", "rows": follower_settings(follower), "holds": []}]))]
        tags += turning
        html = filled("tags.html", project=project, pairs=[tags[i:i + 2] for i in range(0, len(tags), 2)], revision=revision)
        print_html(html, path, QPageLayout.Orientation.Landscape)
        return path

    return work


def write_tags(session: Session, path: Path) -> None:
    """The tags as PDF, at once. Raises BadFile."""
    tags_work(session, path)()


def begin_tags(session: Session, path: Path) -> None:
    """The same in the background; then it is told."""
    work = tags_work(session, path)
    session.works.run("the tags", session, lambda _progress: work(),
                      lambda done: session.told.emit(f"{done}: the tags are written."))
