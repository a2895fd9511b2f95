"""Where the time goes, by part: one axis from nothing, an edit, a start and `solve`. `make bench` prints it after the ratios.

  one axis    formulas by the chapter of the core that they stand in, what looks them up and checks them, checks, advice
  edit        what an edit of one field does on a stage that says little, and what the costliest two add
  start-up    modules found, read and run, by whose they are, then opening, solving, building and painting
  solve       the same modules of `urban_mule solve`
"""

from __future__ import annotations

import re
import statistics
import subprocess
import sys
import time
from collections import Counter
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

from run import DEMO_WINDOW, LEAVE, ROOT, built_demo, project_of, spent

TIMES = 15
OURS, TOLD = "urban_mule", ("urban_mule", "numpy", "scipy", "PyQt6", "pyqtgraph")
PHASES = """
import time
at = [time.perf_counter()]
from pathlib import Path
from urban_mule.desk.app import Desk, application
from urban_mule.store.file.project_file import ProjectFile
at.append(time.perf_counter())
app = application()
at.append(time.perf_counter())
file = ProjectFile.open(Path(__import__("sys").argv[1]))
project = file.project()
at.append(time.perf_counter())
window = Desk().show(file)
at.append(time.perf_counter())
app.processEvents()
window.grab()
at.append(time.perf_counter())
print(*(later - earlier for earlier, later in zip(at, at[1:])))
"""


def said(parts: dict[str, float]) -> str:
    """Parts [s] in ms, the greatest first."""
    return ", ".join(f"{name} {value * 1e3:.1f}" for name, value in sorted(parts.items(), key=lambda one: -one[1]))


def where_one_axis(demo: Path) -> None:
    from urban_mule.core.sheet.advice import advised
    from urban_mule.core.subjects import axis_sheet
    from urban_mule.store.solve import axis_inputs

    project = project_of(demo)
    inputs = axis_inputs(project, project.axis("X"))
    inputs |= {"acceleration_reading": None, "acceleration_readings": None}
    sheet = axis_sheet("linear", "stepper")
    asked = [one for one in sheet.quantities.values() if not one.sought and not one.slow]

    def solved() -> Any:
        solution = sheet.solve(**inputs)
        with solution.quiet():
            for one in asked:
                solution.find(one.name)
        return solution

    whole, solution = spent(solved, TIMES), solved()
    chapters, counts = dict[str, float](), Counter[str]()
    with solution.quiet():
        for one in asked:
            arguments = solution.arguments(one.parameters, one.optional)
            if isinstance(arguments, dict) and not (one.unless or one.instead):
                chapter = one.function.__module__.split(".")[2]
                chapters[chapter] = chapters.get(chapter, 0.0) + spent(partial(tried, one.function, arguments), TIMES)
                counts[chapter] += 1
    judged = spent(solution.judged, TIMES)
    verdicts = [one for one in solution.judged().values() if one is not None]
    ways = sum(len(one.ways) for one in verdicts)
    advice = spent(lambda: [advised(solution, one) for one in verdicts], 5)
    print(f"one axis   {whole * 1e3:.1f} ms for {len(asked)} quantities: formulas {said(chapters)};"
          f" {(whole - sum(chapters.values())) * 1e3:.1f} for finding arguments and looking at results")
    print(f"           then {len(sheet.checks)} checks {judged * 1e3:.1f} ms, and the advice of all of them, {ways} ways,"
          f" {advice * 1e3:.1f} ms, of which a window tries that of one")


def tried(function: Callable[..., object], arguments: dict[str, Any]) -> None:
    """A formula, also where it says that it does not know."""
    from urban_mule.core.sheet.quantity import NotKnown

    try:
        function(**arguments)
    except (NotKnown, ArithmeticError):
        return


def where_edit(demo: Path) -> None:
    from urban_mule.core.sheet.advice import advised
    from urban_mule.desk.app import application
    from urban_mule.desk.frame.window import Window
    from urban_mule.desk.model.saving import Saving
    from urban_mule.desk.model.session import Session
    from urban_mule.desk.walk import settle
    from urban_mule.store.file.project_file import ProjectFile
    from urban_mule.store.state import axis_state, machine

    spending: dict[str, float] = {}

    def watch(owner: Any, name: str, part: str) -> None:
        before = getattr(owner, name)

        def watched(*given: Any, **named: Any) -> Any:
            start = time.perf_counter()
            try:
                return before(*given, **named)
            finally:
                spending[part] = spending.get(part, 0.0) + time.perf_counter() - start

        setattr(owner, name, watched)

    watch(machine, "solved", "solving, the axis and all together")
    watch(Saving, "commit", "writing")
    axis_state.advised = advised
    watch(axis_state, "advised", "advice")
    app, window = application(), Window(Session(ProjectFile.open(demo)))
    window.show()
    settle(window.session)
    for stage in ("Log", "Motor", "Ring"):
        window.show_stage(stage)
        settle(window.session)
        whole, painted = [], []
        spending.clear()
        for n in range(TIMES):
            start = time.perf_counter()
            window.session.edit(window.session.axis_path("moving_mass"), 5.0 + 0.01 * n + 0.3 * len(stage))
            middle = time.perf_counter()
            for _ in range(3):
                app.processEvents()
            painted.append(time.perf_counter() - middle)
            whole.append(time.perf_counter() - start)
        parts = {name: value / TIMES for name, value in spending.items()} | {"painting": statistics.mean(painted)}
        parts["saying it"] = statistics.mean(whole) - sum(parts.values())
        print(f"edit       {stage} {statistics.mean(whole) * 1e3:.1f} ms: {said(parts)}")
    window.close()


def modules_of(*command: str) -> str:
    """Whose modules a command loads: how many, and how long they take to be found, read and run, without those they load."""
    told = subprocess.run([sys.executable, "-X", "importtime", *command], check=True, capture_output=True, text=True).stderr
    times, counts = dict[str, float](), Counter[str]()
    for own, name in re.findall(r"^import time: +(\d+) \| +\d+ \| +(\S+)$", told, re.M):
        whose = name.split(".")[0] if name.split(".")[0] in TOLD else "Python's own and others"
        times[whose] = times.get(whose, 0.0) + float(own) / 1e6
        counts[whose] += 1
    return ", ".join(f"{whose} {counts[whose]} in {times[whose] * 1e3:.0f}" for whose in sorted(times, key=lambda one: -times[one]))


def where_starts(demo: Path) -> None:
    case = str(ROOT / "tests/vectors/01-belt-stepper.json")
    rows = [subprocess.run([sys.executable, "-c", PHASES + LEAVE, str(demo)], check=True, capture_output=True, text=True).stdout
            for _ in range(5)]
    phases = [statistics.median(column) for column in zip(*(map(float, row.split()) for row in rows), strict=True)]
    names = ("loading", "Qt", "opening", "window", "painting")
    print(f"start-up   {said(dict(zip(names, phases, strict=True)))} ms")
    print(f"           modules, in ms: {modules_of('-c', DEMO_WINDOW + LEAVE, str(demo))}")
    print(f"solve      modules, in ms: {modules_of('-m', OURS, 'solve', case)}")


def main() -> None:
    with built_demo() as demo:
        where_one_axis(demo)
        where_edit(demo)
        where_starts(demo)


if __name__ == "__main__":
    main()
