"""Speed and memory, as ratios measured side by side in one run. `make bench` prints them.

  edit        change of one field to all numbers and pictures of the shown stage, median over the stages
  flat        an edit on Drive, Ring and Log after 5,000 revisions, 2,000 values set and 200 readings over one in a fresh file
  history     20,000 revisions and 500 readings: opening, and reading an old revision, over a fresh file; bytes a change
  visits      the longest that a visit to a stage or leaf keeps the window from answering: a first one soon after the start and
              later, and another one
  large       with 64 axes, 1000 moves and 500 sets of readings: the longest that any action keeps the window from answering
              over the longest with four axes and four moves, and the action that grows most
  scratch     the demo's X axis solved from nothing: every quantity and verdict but the acceleration record's analysis; asked: of
              that what a window computes: not what is only sought, as the best settings are, and the advice of one check
  record      60 s at 3.2 kHz in three directions: whole analysis over bare scipy.signal.welch with the same settings
  practice    the simulated axis against real time, and the frames of the axis that moves before one's eyes
  motion      one axis integrated in time against real time
  tuning      all shapers tuned to a 60 s record of three directions over its Welch spectrum
  start-up    process start to a painted demo window over a bare PyQt6 and pyqtgraph window with one plot
  memory      of the process with the demo open and every stage visited
  solve       `urban-mule solve` over `python -c "import numpy"`
  search      every motor × wiring × supply × current × reduction of the library on each axis of the demo, and one by one
  tolerance   ten thousand builds of each axis, every input as unsure as it is
  doubts      how sure every number of an axis is, over one edit of it
"""

from __future__ import annotations

import itertools
import os
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import partial
from pathlib import Path
from typing import Any

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
ROOT = Path(__file__).parent.parent
BARE_WINDOW = """
from PyQt6.QtWidgets import QApplication
import pyqtgraph as pg
app = QApplication([])
plot = pg.PlotWidget()
plot.plot([0, 1, 2], [0, 1, 4])
plot.resize(1280, 800)
plot.show()
app.processEvents()
plot.grab()
"""
DEMO_WINDOW = """
import gc, sys
gc.disable()  # as the command does until the window stands
from pathlib import Path
from urban_mule.desk.app import Desk, application
from urban_mule.store.file.project_file import ProjectFile
app = application()
window = Desk().show(ProjectFile.open(Path(sys.argv[1])))
app.processEvents()
window.grab()
"""
LEAVE = "\nimport os\nos._exit(0)\n"  # the window is painted: taking the process apart is no part of a start
MEMORY = """
import itertools
import os
from urban_mule.core.sheet.stages import STAGES
from urban_mule.desk.walk import settle
settle(window.session)
for stage in STAGES:
    window.show_stage(stage)
    settle(window.session)
print(int(open("/proc/self/statm").read().split()[1]) * os.sysconf("SC_PAGE_SIZE") / 1e6)
window.close()
"""

BARE_MEMORY = """
import os
print(int(open("/proc/self/statm").read().split()[1]) * os.sysconf("SC_PAGE_SIZE") / 1e6)
"""


def project_of(path: Path) -> Any:
    """The project of a file that is closed again, so that a window may write it."""
    from urban_mule.store.file.project_file import ProjectFile

    file = ProjectFile.open(path)
    project = file.project()
    file.close()
    return project


def spent(work: Callable[[], object], times: int) -> float:
    """Median time of a piece of work [s]."""
    found = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        found.append(time.perf_counter() - start)
    return statistics.median(found)


def process(*command: str) -> Callable[[], object]:
    return lambda: subprocess.run([sys.executable, *command], check=True, stdout=subprocess.DEVNULL)


def paired(one: Callable[[], object], other: Callable[[], object], times: int) -> tuple[float, float, float]:
    """Medians of two pieces of work run in turn, and the median of their ratios."""
    pairs = [(spent(one, 1), spent(other, 1)) for _ in range(times)]
    a, b = (statistics.median(p[i] for p in pairs) for i in (0, 1))
    return a, b, statistics.median(x / y for x, y in pairs)


def bench_core(demo: Path) -> None:
    import numpy as np
    from scipy.signal import welch

    from urban_mule.core.readings.acceleration import AccelerationReading
    from urban_mule.core.ring.spectrum import segment_length, spectrum
    from urban_mule.core.ring.tuned import tuned_shapers
    from urban_mule.core.subjects import axis_sheet
    from urban_mule.store.solve import axis_inputs, open_solution

    project = project_of(demo)
    inputs = axis_inputs(project, project.axis("X"))
    sheet = axis_sheet("linear", "stepper")
    record, inputs["acceleration_readings"] = inputs.pop("acceleration_reading"), None
    scratch = spent(lambda: open_solution(sheet.solve(**inputs)), 40)
    whole = spent(lambda: open_solution(sheet.solve(**inputs, acceleration_reading=record)), 5)
    print(f"scratch    {scratch * 1e3:6.2f} ms; with the analysis of its 11 s record {whole * 1e3:.0f} ms")
    asked = spent(lambda: as_asked(sheet.solve(**inputs)), 40)
    print(f"asked      {asked * 1e3:6.2f} ms of that as a window asks: the best settings not sought, the advice of one check tried")

    rng, rate = np.random.default_rng(1), 3200.0
    times = np.arange(int(60 * rate)) / rate
    values = np.column_stack([ringing(rng.standard_normal(times.size), rate) for _ in range(3)])
    reading = AccelerationReading(times, values)
    length = segment_length(times.size, rate)
    a, b, ratio = paired(
        lambda: sheet.solve(acceleration_reading=reading)["shapers"], lambda: welch(values, rate, nperseg=length, axis=0), 9)
    print(f"record     {a * 1e3:6.1f} ms, bare welch {b * 1e3:.1f} ms: ratio {ratio:.2f} (at most 1.15)")
    analysed = sheet.solve(acceleration_reading=reading)
    base, found = analysed["time_base"], analysed["modes"]
    a, b, ratio = paired(lambda: tuned_shapers(found, 2e-4), lambda: spectrum(base), 15)
    print(f"tuning     all kinds to {len(found)} modes of that record {a * 1e3:.1f} ms, its spectrum {b * 1e3:.1f} ms: ratio"
          f" {ratio:.2f} (at most 1)")


def as_asked(solution: Any) -> None:
    """Every quantity that is not sought, what every check says, and the advice of the one that is said first."""
    from urban_mule.core.sheet.advice import advised
    from urban_mule.core.sheet.verdict import worst

    with solution.quiet():
        for name, one in solution.sheet.quantities.items():
            if not one.sought and not one.slow:
                solution.find(name)
    advised(solution, worst(tuple(one for one in solution.judged().values() if one is not None)))


def bench_search(demo: Path) -> None:
    """All axes; one by one the same figures of the same combinations come from the same sheet, one solution each."""
    from urban_mule.core.studies.search import Rules
    from urban_mule.store.library.drives import Space, parts_of, search_drives, search_inputs, supplies_for
    from urban_mule.store.library.parts import shipped_parts

    project, parts = project_of(demo), shipped_parts()
    for axis in project.axes:
        supplies = supplies_for(axis, (24, 30, 36, 48, 60, 72))
        space = Space("stepper", parts_of(parts, "stepper"), parts_of(parts, "reduction"), supplies)
        sheet, inputs = search_inputs(project, axis, "stepper")
        motors = [{name: value for name, value in row.items() if name in sheet.inputs} for row in space.scan.motors]
        together = partial(search_drives, project, axis, space, Rules(), lambda _done, _total: True)
        a, b, _ = paired(together, partial(solve_each, sheet, inputs, motors[::7]), 3)
        size, each = space.scan.size, b / len(motors[::7])
        print(f"search {axis.name}   {a:7.4f} s for {size} combinations ; one by one"
              f" {each * 1e6:.0f} µs each: {each * size / a:.0f} times slower (at least 50)")


def solve_each(sheet: Any, inputs: dict[str, Any], motors: list[dict[str, Any]]) -> None:
    """The figures of a search for each of these motors, one solution each."""
    for motor in motors:
        solution = sheet.solve(**{**inputs, **motor, "supply_voltage": 48.0, "current_peak": motor["rated_current"]})
        for name in ("working_margin", "inertia_ratio", "noise_proxy", "cycle_temperature_rise", "pulse_rate"):
            solution.find(name)


def bench_tolerance(demo: Path) -> None:
    from urban_mule.core.studies.tolerance import spread
    from urban_mule.store.doubts import axis_inputs_in_doubt
    from urban_mule.store.solve import solve_axis

    project = project_of(demo)
    for axis in project.axes:
        solution = solve_axis(project, axis)
        inputs, _, _ = axis_inputs_in_doubt(project, axis, solution)
        time_spent = spent(partial(spread, solution, "working_margin", inputs), 3)
        print(f"tolerance {axis.name}  {time_spent * 1e3:.0f} ms for 10 000 builds of {len(inputs)} unsure inputs (at most 500)")


def bench_doubts(demo: Path) -> None:
    """All intervals of an axis over one edit of it, both without a window."""
    from urban_mule.store.document.edit import edited
    from urban_mule.store.doubts import axis_doubts
    from urban_mule.store.solve import solve_axis

    project = project_of(demo)
    for place, axis in enumerate(project.axes):
        key = "moving_mass" if axis.motion == "linear" else "load_inertia"

        def edit(place: int = place, key: str = key, number: Any = itertools.count(1)) -> None:  # noqa: B008  counts on
            made = edited(project, ("axes", place, key), getattr(project.axes[place], key) * (1 + next(number) / 1e4))
            solution = solve_axis(made, made.axes[place])
            for name, one in solution.sheet.quantities.items():
                if not one.slow:
                    solution.find(name)
            solution.verdicts()

        solution = solve_axis(project, axis)
        _, _, ratio = paired(partial(axis_doubts, project, axis, solution), edit, 5)
        print(f"doubts {axis.name}     {ratio:.1f} times an edit of it (at most 2)")


def ringing(drive: object, rate: float) -> object:
    import numpy as np

    transform = np.fft.rfft(drive)  # type: ignore[arg-type]
    f = np.fft.rfftfreq(len(drive), 1 / rate)  # type: ignore[arg-type]
    total = sum(c * (f / m) ** 2 / (1 - (f / m) ** 2 + 2j * z * f / m) for m, z, c in ((31.0, 0.03, 1.0), (64.0, 0.04, 0.5)))
    return np.fft.irfft(transform * total, len(drive))  # type: ignore[arg-type]


def bench_edit(demo: Path) -> None:
    from urban_mule.core.sheet.stages import STAGES
    from urban_mule.desk.app import application
    from urban_mule.desk.frame.window import Window
    from urban_mule.desk.model.session import Session
    from urban_mule.desk.walk import settle
    from urban_mule.store.file.project_file import ProjectFile

    app = application()
    window = Window(Session(ProjectFile.open(demo)))
    window.show()
    settle(window.session)
    for stage in STAGES:
        window.show_stage(stage)
    found = {}
    for stage in STAGES:
        window.show_stage(stage)
        settle(window.session)
        times = []
        for n in range(12):
            start = time.perf_counter()
            window.session.edit(window.session.axis_path("moving_mass"), 5.0 + 0.01 * n + 0.2 * STAGES.index(stage))
            for _ in range(3):
                app.processEvents()
            times.append(time.perf_counter() - start)
        assert window.session.axis.moving_mass == 5.0 + 0.01 * n + 0.2 * STAGES.index(stage), "an edit that is refused is none"
        found[stage] = statistics.median(times)
    median = statistics.median(found.values())
    print(f"edit       {median * 1e3:6.1f} ms (aim 33), Motor {found['Motor'] / median:.1f} times it (at most 2): "
          + ", ".join(f"{stage} {t * 1e3:.0f}" for stage, t in found.items()))
    window.close()


def long_file(path: Path, revisions: int, applied: int, readings: int) -> Path:
    """The demo with a long history."""
    from urban_mule.demo.courtyard import build_demo
    from urban_mule.store.document.edit import edited
    from urban_mule.store.exchange.csv_readings import parse_csv

    file = build_demo(path)
    project, reading = file.project(), parse_csv("commanded [mm],measured [mm]\n400,399.8\n")
    project = edited(project, ("axes", 0, "readings"), (*(reading for _ in range(readings)), *project.axes[0].readings))
    for n in range(revisions):
        project = edited(project, ("axes", 0, "moving_mass"), 4.0 + n / 1e4)
        file.commit(project, "mass")
    for n in range(applied):
        file.apply(project.axes[0].id, {"microsteps": float(n % 60 + 1)}, {})
    file.close()
    return path


def bench_flat(folder: Path) -> None:
    from urban_mule.desk.app import application
    from urban_mule.desk.frame.window import Window
    from urban_mule.desk.model.session import Session
    from urban_mule.desk.walk import settle
    from urban_mule.store.file.project_file import ProjectFile

    app = application()
    windows = [Window(Session(ProjectFile.open(long_file(folder / f"long{revisions}.mule", revisions, applied, readings))))
               for revisions, applied, readings in ((0, 0, 0), (5000, 2000, 200))]
    said = []
    for stage in ("Drive", "Ring", "Log"):
        for window in windows:
            window.show_stage(stage)
            window.show()
            settle(window.session)

        def edit(window: Any, number: list[int] = [0]) -> None:  # noqa: B006  counts on, so that every edit changes something
            number[0] += 1
            window.session.edit(window.session.axis_path("moving_mass"), 5.0 + number[0] / 1e3)
            for _ in range(3):
                app.processEvents()

        new, long, ratio = paired(partial(edit, windows[0]), partial(edit, windows[1]), 40)
        said.append(f"{stage} {long * 1e3:.1f} over {new * 1e3:.1f} ms: {1 / ratio:.2f}")
    print(f"flat       {', '.join(said)} (at most 1.2)")
    bench_readings(windows)
    for window in windows:
        window.close()


def bench_history(folder: Path) -> None:
    """A file of 20,000 revisions and 500 readings against a fresh one."""
    from urban_mule.store.file.project_file import ProjectFile

    fresh, old = folder / "fresh.mule", folder / "old.mule"
    long_file(fresh, 0, 0, 0)
    long_file(old, 0, 0, 500)
    before = old.stat().st_size
    long_file(folder / "grown.mule", 20_000, 0, 500)

    def opened(path: Path) -> None:
        file = ProjectFile.open(path)
        file.project()
        file.close()

    _, long, ratio = paired(partial(opened, fresh), partial(opened, folder / "grown.mule"), 9)
    file = ProjectFile.open(folder / "grown.mule")
    middle = file.newest_revisions(10_000)[-1].id
    began = time.perf_counter()
    file.project(middle)
    restored = time.perf_counter() - began
    file.close()
    each = ((folder / "grown.mule").stat().st_size - before) / 20_000
    print(f"history    opened in {long:.2f} s (at most 1), {1 / ratio:.1f} times a fresh file; a revision read in {restored:.3f} s"
          f" (at most 0.3); {each:.0f} bytes a change (at most 300)")


def bench_readings(windows: list[Any]) -> None:
    """The list of readings of an axis with few sets and with 200, opened and closed."""
    from urban_mule.desk.frame.readings_window import ReadingsWindow

    def opened(window: Any) -> None:
        box = ReadingsWindow(window.session, window)
        box.show()
        box.close()
        box.deleteLater()

    few, many, ratio = paired(partial(opened, windows[0]), partial(opened, windows[1]), 10)
    print(f"readings   list of {len(windows[1].session.axis.readings)} sets opens in {many * 1e3:.0f} ms (at most 100), of"
          f" {len(windows[0].session.axis.readings)} in {few * 1e3:.0f} ms: {1 / ratio:.2f}")


def longest_silence(work: Callable[[], object], app: Any) -> float:
    """The longest time between two turns of the event loop after `work` was asked for [s]."""
    from PyQt6.QtCore import QTimer

    turns = [time.perf_counter()]
    QTimer.singleShot(0, work)
    while time.perf_counter() < turns[0] + 0.5:
        app.sendPostedEvents()
        turns.append(time.perf_counter())
        app.processEvents()
        turns.append(time.perf_counter())
    return max(later - earlier for earlier, later in itertools.pairwise(turns))


def bench_visits(demo: Path) -> None:
    from urban_mule.core.sheet.stages import STAGES
    from urban_mule.desk.app import Desk, application
    from urban_mule.desk.walk import settle
    from urban_mule.store.file.project_file import ProjectFile

    app = application()

    def tour(window: Any, found: dict[str, list[float]]) -> None:
        for stage in STAGES:
            found.setdefault(stage, []).append(longest_silence(partial(window.show_stage, stage), app))
            for word in window.stage.leaves.all_words[1:]:
                turn = partial(window.stage.leaves.turn, word)
                found.setdefault(f"{stage} {word}", []).append(longest_silence(turn, app))

    again: dict[str, list[float]] = {}
    for when, wait in (("soon", 1.1), ("later", 8.0)):
        found: dict[str, list[float]] = {}
        for _ in range(3):
            window = Desk().show(ProjectFile.open(demo))
            settle(window.session)
            until = time.perf_counter() + wait
            while time.perf_counter() < until:
                app.processEvents()
                time.sleep(0.002)
            tour(window, found)
            settle(window.session)
            tour(window, again)
            window.close()
        say_visits(when, found, 50)
    say_visits("again", again, 16)


def bench_idle(demo: Path) -> None:
    """What a window takes of a core that nobody touches, once all stages are built ahead."""
    from PyQt6.QtCore import QEventLoop, QTimer

    from urban_mule.desk.app import Desk, application
    from urban_mule.desk.walk import settle_sure
    from urban_mule.store.file.project_file import ProjectFile

    app = application()
    window = Desk().show(ProjectFile.open(demo))
    settle_sure(window.session)
    taken = []
    for seconds in (8, 4):
        loop = QEventLoop(app)
        QTimer.singleShot(1000 * seconds, loop.quit)
        before = time.process_time()
        loop.exec()
        taken.append((time.process_time() - before) / seconds)
    window.close()
    print(f"idle       {taken[-1]:6.2%} of a core (at most 1 %)")


def say_visits(when: str, found: dict[str, list[float]], most: int) -> None:
    medians = {where: statistics.median(times) * 1e3 for where, times in found.items()}
    middle = statistics.median(medians.values())
    print(f"visits     {when}: {max(medians.values()):.0f} ms at most (at most {most}), median {middle:.0f}: "
          + ", ".join(f"{where} {t:.0f}" for where, t in medians.items()))


def bench_practice(demo: Path) -> None:
    from urban_mule.bench.devices import RESTING
    from urban_mule.bench.sessions.carried import usual, walk
    from urban_mule.bench.sessions.kinds import steps_of
    from urban_mule.bench.sessions.rounds import plan_of
    from urban_mule.demo.courtyard import demo_project
    from urban_mule.practice.machine import practice_machine

    project = demo_project()
    axis = project.axis("X")
    machine = practice_machine(project, axis, 1)
    plan, found = plan_of(axis, machine.solution), []
    speed = float(machine.solution["top_speed"])
    for kind, changed in (("positioning", {}), ("ladder", {}), ("acceleration", {"duration": "60"})):
        settings, real, at = usual(kind, plan, **changed), 0.0, 0.0
        for step in steps_of(kind, plan, settings):
            for act in step.does:
                if act[0] in ("move", "run"):
                    real, at = real + abs(act[1] - at) / (act[2] if act[0] == "run" else speed), act[1]
                real += act[3] + 2 * RESTING if act[0] == "record" else 0.0
        took = spent(lambda kind=kind, settings=settings: walk(kind, plan, settings, machine, lambda *_: True), 3)
        found.append((real / took, kind))
    print("practice   simulated axis against real time (at least 20): " + ", ".join(f"{kind} {ratio:.0f}" for ratio, kind in found))
    bench_motion(project)
    bench_frames(demo)


def bench_motion(project: Any) -> None:
    """One second of X, moving and standing, integrated in time."""
    from urban_mule.bench.simulated.body import mechanism_of
    from urban_mule.bench.simulated.motion import SETTLES, moved
    from urban_mule.store.solve import solve_axis

    mechanism = mechanism_of(solve_axis(project, project.axis("X")))
    real = 0.3 / 0.6 + 0.6 / 8.0 + SETTLES
    took = spent(lambda: moved(mechanism, 0.3, 0.6, 8.0), 9)
    print(f"motion     one axis integrated in time against real time: {real / took:.0f} (at least 200)")


def bench_frames(demo: Path) -> None:
    """Ten seconds of the axis moving before one's eyes, frame by frame."""
    from PyQt6.QtCore import QEvent, QObject

    from urban_mule.desk.app import Desk, application
    from urban_mule.desk.walk import settle
    from urban_mule.store.file.project_file import ProjectFile

    class Watch(QObject):
        def eventFilter(self, _of: Any, event: Any) -> bool:
            if event.type() == QEvent.Type.Paint:
                painted.append(time.perf_counter())
            return False

    app, painted, watch = application(), list[float](), Watch()
    window = Desk().show(ProjectFile.open(demo))
    window.show_stage("Moves")
    picture = window.stage.leaves.picture
    settle(window.session)
    begun = time.perf_counter()
    while time.perf_counter() < begun + 3:  # the stages that are built ahead are built
        app.processEvents()
    picture.moving.installEventFilter(watch)
    picture.run()
    begun = time.perf_counter()
    while time.perf_counter() < begun + 10:
        app.processEvents()
        time.sleep(0.0005)
    gaps = sorted(later - earlier for earlier, later in itertools.pairwise(painted))
    print(f"frames     {len(painted)} of the moving axis in 10 s, {gaps[-1] * 1e3:.0f} ms at most (at most 33), median"
          f" {statistics.median(gaps) * 1e3:.0f} ms")
    window.close()


NOTICED = 0.02  # s below which nobody sees that the window does not answer


def bench_large(demo: Path) -> None:
    """Every stage and leaf, edits of one axis and of all, undo, other axes, the list of readings, other units, day and night."""
    from PyQt6.QtWidgets import QDialog

    from urban_mule.core.sheet.stages import STAGES
    from urban_mule.desk.app import application
    from urban_mule.desk.frame.window import Window
    from urban_mule.desk.model.session import Session
    from urban_mule.desk.walk import settle
    from urban_mule.store.document.base import MOST
    from urban_mule.store.file.project_file import ProjectFile

    app, window = application(), Window(Session(ProjectFile.open(demo)))
    session = window.session
    window.show()
    settle(session)

    def silent(act: Callable[[], object]) -> float:
        """The longest that the window does not answer while it acts, and until nothing is left to do [s]."""
        gaps, begun = [], time.perf_counter()
        act()
        gaps.append(time.perf_counter() - begun)
        until = time.perf_counter() + 0.15
        while time.perf_counter() < until or session.analysing:
            at = time.perf_counter()
            app.processEvents()
            gaps.append(time.perf_counter() - at)
        return max(gaps)

    fresh = itertools.count()

    def turned(word: str) -> None:
        window.stage.leaves.turn(word)

    def measured() -> dict[str, float]:
        found: dict[str, float] = {}
        acts: list[tuple[str, Callable[[], object]]] = []
        for stage in STAGES:
            acts.append((stage, partial(window.show_stage, stage)))
            acts += [(f"{stage}, {word}", partial(turned, word)) for word, _ in window._view(stage).spec.leaves]
        new = 5.0 + next(fresh) / 100
        for n, stage in enumerate(("Load", "Motor", "Ring", "Log")):
            acts += [(f"back to {stage}", partial(window.show_stage, stage)), (f"an edit on {stage}", partial(
                session.edit, session.axis_path("moving_mass"), new + n / 1000))]
        acts += [("an edit of all axes", lambda: session.edit(("ambient_temperature",), 15.0 + new)),
                 ("undo", session.undo_stack.undo), ("another axis", lambda: window.show_axis(1)),
                 ("back", lambda: window.show_axis(0)), ("readings", window.show_readings),
                 ("units", window.other_units), ("units back", window.other_units),
                 ("night", window.other_light), ("day", window.other_light)]
        for name, act in acts:
            found[name] = silent(act)
            for dialog in window.findChildren(QDialog):
                dialog.close()
        return found

    def quietest() -> dict[str, float]:
        """Of two runs the one in which the machine did less beside it."""
        one, other = measured(), measured()
        return {name: min(one[name], other[name]) for name in one}

    first, *others = session.project.axes
    move = first.cycle[0]
    session.edit(session.axis_path("cycle"), (move,) * 4)
    measured()
    small = quietest()
    sets = [first.last_reading("reversal").model_copy(update={"note": str(n)}) for n in range(500)]
    whole = first.model_copy(update={"cycle": (move,) * 1000, "readings": (*sets, *first.readings)})
    many = [one.model_copy(update={"name": f"{one.name}{n}", "readings": ()}) for n in range(20) for one in (first, *others)]
    session.replace(session.project.model_copy(update={"axes": (whole, *others, *many)[:MOST["axes"]]}), "large")
    measured()
    large = quietest()
    grown = {name: large[name] / max(small[name], NOTICED) for name in small}
    most = max(grown, key=lambda name: grown[name])
    print(f"large      {max(large.values()):.2f} s at most, {max(small.values()):.2f} s with four axes and four moves; of"
          f" {len(grown)} actions {most} grows most, {small[most] * 1e3:.0f} to {large[most] * 1e3:.0f} ms:"
          f" ratio {grown[most]:.1f} (at most 4)")
    window.close()


@contextmanager
def built_demo() -> Iterator[Path]:
    """The demo, built anew in a folder of its own."""
    from urban_mule.demo.courtyard import build_demo

    with tempfile.TemporaryDirectory() as folder:
        demo = Path(folder) / "courtyard.mule"
        build_demo(demo).close()
        yield demo


def main() -> None:
    with built_demo() as demo:
        bench_core(demo)
        bench_search(demo)
        bench_tolerance(demo)
        bench_doubts(demo)
        bench_edit(demo)
        bench_flat(demo.parent)
        bench_history(demo.parent)
        bench_visits(demo)
        bench_idle(demo)
        bench_large(demo)
        bench_practice(demo)
        a, b, ratio = paired(process("-c", DEMO_WINDOW + LEAVE, str(demo)), process("-c", BARE_WINDOW + LEAVE), 11)
        print(f"start-up   {a:6.2f} s, bare window {b:.2f} s: ratio {ratio:.2f} (at most 1.2)")
        memory = subprocess.run([sys.executable, "-c", DEMO_WINDOW + MEMORY, str(demo)], check=True, capture_output=True, text=True)
        bare = subprocess.run([sys.executable, "-c", BARE_WINDOW + BARE_MEMORY], check=True, capture_output=True, text=True)
        more = float(memory.stdout) - float(bare.stdout)
        print(f"memory     {float(memory.stdout):6.0f} MB, {more:.0f} MB over the bare window (at most 55)")
        case = str(ROOT / "tests/vectors/01-belt-stepper.json")
        a, b, ratio = paired(process("-m", "urban_mule", "solve", case), process("-c", "import numpy"), 15)
        print(f"solve      {a:6.2f} s, bare imports {b:.2f} s: ratio {ratio:.2f} (at most 1.4)")


if __name__ == "__main__":
    main()
