"""The command line: open the application, solve a project, export and import."""

from __future__ import annotations

import argparse
import errno
import gc
import io
import json
import os
import sys
from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING, Any, NoReturn

from urban_mule.demo import COURTYARD, DEMOS

if TYPE_CHECKING:
    from urban_mule.store.document.project import Project

BAD_INPUT = 2
MOST_PORT = 65535


class Help(argparse.HelpFormatter):
    """Help of a fixed width; measuring the terminal would cost every start 2 % of a `solve`."""

    def __init__(self, prog: str) -> None:
        super().__init__(prog, width=100)


class Parser(argparse.ArgumentParser):
    """A parser with such help, as are those of its commands."""

    def __init__(self, **options: Any) -> None:
        super().__init__(formatter_class=Help, **options)


def command_line() -> Parser:
    """All commands with their options; the manual page is made of them, too."""
    parser = Parser(prog="urban-mule", description="Size, set, measure and prove the axes of a machine.")
    commands = parser.add_subparsers(dest="command")
    open_ = commands.add_parser("open", help="open the window (the default)")
    open_.add_argument("file", nargs="?", type=Path, help="a .mule project; else the last one")
    demo = commands.add_parser("demo", help="open the demo project, or walk it offscreen where there is no display")
    demo.add_argument("machine", nargs="?", choices=DEMOS, default=COURTYARD,
                      help="the mosaic layer of the courtyard, or the glazing brush, which two motors move in two axes")
    demo.add_argument("--out", type=Path, default=Path("out"), help="where the offscreen walk writes")
    demo.add_argument("--offscreen", action="store_true", help="walk it offscreen even with a display")
    solve = commands.add_parser("solve", help="solve a project JSON and print every number")
    solve.add_argument("file", type=Path)
    solve.add_argument("--axis", help="only this axis")
    solve.add_argument("--uncertainty", action="store_true", help="how sure every number is, what makes its doubt, and odds")
    solve.add_argument("--learn", action="store_true", help="what the readings teach, what contradicts, what to measure next")
    solve.add_argument("--working", metavar="QUANTITY", help="print how a quantity came about, as text")
    salvage = commands.add_parser("salvage", help="print the newest readable document of a damaged .mule as JSON")
    salvage.add_argument("file", type=Path)
    salvage.add_argument("--to", type=Path, metavar="NEW.mule", help="write it, with log, readings and what was set, as a new file")
    verify = commands.add_parser("verify", help="read a .mule through from end to end and name every fault")
    verify.add_argument("file", type=Path)
    bench = commands.add_parser("practice-bench", help="serve a simulated axis by the bench protocol (docs/bench-protocol.md)")
    bench.add_argument("file", type=Path, nargs="?", help="project JSON; - reads it from standard input; else the demo")
    bench.add_argument("--axis", help="which axis; else the first")
    bench.add_argument("--second", help="another linear axis that it moves too, for a circle")
    bench.add_argument("--socket", type=int, metavar="PORT", help="a loopback socket, 0 for a free one; else a pseudo-terminal")
    bench.add_argument("--session", type=int, default=0, help="number of the session: other noise each time")
    bench.add_argument("--pace", type=float, default=None, metavar="SECONDS", help="how long a move takes")
    commands.add_parser("schema", help="print the JSON Schema of the project JSON")
    return parser


def main(arguments: list[str] | None = None) -> int:
    """Run the command line; the exit status: 0, or 2 on bad input."""
    gc.disable()  # collecting garbage while modules load costs a tenth of every start; with a window `desk.model.works` does it
    chosen = command_line().parse_args(arguments)
    match chosen.command:
        case "solve":
            return solve_command(chosen.file, chosen.axis, chosen.working, chosen.uncertainty, chosen.learn)
        case "salvage":
            return salvage_command(chosen.file, chosen.to)
        case "verify":
            return verify_command(chosen.file)
        case "practice-bench":
            return practice_bench_command(chosen.file, chosen.axis, chosen.socket, chosen.session, chosen.pace, chosen.second)
        case "schema":
            from urban_mule.store.exchange.open_json import schema
            sys.stdout.write(json.dumps(schema(), indent=1) + "\n")
            return 0
        case "demo":
            from urban_mule.desk.app import demo_command
            return demo_command(chosen.out, chosen.offscreen, chosen.machine)
        case _:
            from urban_mule.desk.app import open_command
            return open_command(getattr(chosen, "file", None))


def run() -> NoReturn:
    """The command as a process. It leaves without taking its modules apart, which would be a sixth of a `solve`."""
    for stream in (sys.stdout, sys.stderr):
        if isinstance(stream, io.TextIOWrapper) and (stream.encoding or "").lower() != "utf-8":
            stream.reconfigure(encoding="utf-8")  # names and units are no ASCII, whatever the terminal thinks
    try:
        if sys.stdout is None:
            raise OSError(errno.EBADF, "it is closed")
        status = main()
        sys.stdout.flush()
        sys.stderr.flush()
    except BrokenPipeError:  # whoever read the answer has read enough
        status = 0
    except OSError as why:
        status = BAD_INPUT
        with suppress(Exception):
            sys.stderr.write(f"The output cannot be written: {why.strerror or why}.\n")
            sys.stderr.flush()
    os._exit(status)


def solve_command(path: Path, axis: str | None, working: str | None, uncertainty: bool, learn: bool) -> int:
    """Print the numbers of a project, or the working of one; 2 with one sentence on bad input."""
    from urban_mule.store.exchange.open_json import read_project
    from urban_mule.store.text_files import BadFile

    try:
        sys.stdout.write(solved(path, read_project(path), axis, working, uncertainty, learn))
    except BadFile as why:
        sys.stderr.write(f"{why}\n")
        return BAD_INPUT
    return 0


def verify_command(path: Path) -> int:
    """Name every fault of a project file; 2 when there is one."""
    from urban_mule.store.file.salvage import verify
    from urban_mule.store.text_files import BadFile

    try:
        faults = verify(path)
    except BadFile as why:
        faults = [str(why)]
    sound = f"{path}: every page, revision, reading and line is as it was saved.\n"
    sys.stdout.write("".join(f"{one}\n" for one in faults) or sound)
    return BAD_INPUT if faults else 0


def salvage_command(path: Path, new: Path | None) -> int:
    """Print what can still be read of a damaged project file as open JSON, or write it as a new file; 2 when nothing can."""
    from urban_mule.store.exchange.open_json import export_project
    from urban_mule.store.file.salvage import salvage, salvage_into
    from urban_mule.store.text_files import BadFile

    try:
        if new is None:
            sys.stdout.write(export_project(salvage(path)))
        else:
            sys.stdout.write("".join(f"lost: {one}\n" for one in salvage_into(path, new)) + f"{new}: written.\n")
    except BadFile as why:
        sys.stderr.write(f"{why}\n")
        return BAD_INPUT
    return 0


def practice_bench_command(
    path: Path | None, name: str | None, number: int | None, session: int, pace: float | None, second: str | None = None,
) -> int:
    """Serve a simulated axis until the process is ended; 2 with one sentence on bad input."""
    from urban_mule.bench.practice import PACE, practice_peer, serve_socket, serve_terminal
    from urban_mule.demo.courtyard import demo_project
    from urban_mule.practice.machine import practice_machine, practice_pair
    from urban_mule.store.exchange.open_json import parse_project, read_project
    from urban_mule.store.text_files import BadFile

    def told(address: str) -> None:
        sys.stdout.write(f"{address}\n")
        sys.stdout.flush()

    if number is not None and not 0 <= number <= MOST_PORT:
        sys.stderr.write(f"--socket is {number}; allowed is a port from 0 to {MOST_PORT}.\n")
        return BAD_INPUT
    piped, begun = path == Path("-"), os.getppid()
    try:
        project = demo_project() if path is None else parse_project(sys.stdin.buffer.read()) if piped else read_project(path)
        axis = project.axes[0] if name is None else project.axis(name)
        other = None if second is None else project.axis(second)
    except (BadFile, KeyError, IndexError) as why:
        sys.stderr.write(f"{why if isinstance(why, BadFile) else f'{path}: there is no axis {name!r} or {second!r}.'}\n")
        return BAD_INPUT
    if other is not None and (other.motion != "linear" or axis.motion != "linear" or other is axis):
        sys.stderr.write(f"--second is {second!r}; two different axes are needed that run along a line.\n")
        return BAD_INPUT
    machine = practice_machine(project, axis, session)
    pace = PACE if pace is None else pace
    if other is None:
        peer = practice_peer(machine, axis.name, axis.motion == "linear", pace)
    else:
        pair = practice_pair(project, axis, other, session)
        peer = practice_peer(pair, axis.name, True, pace, other.name)

    def go_on() -> bool:  # whoever piped a project in takes the bench along when it ends
        return not piped or os.getppid() == begun

    try:
        if number is None:
            serve_terminal(peer, told, go_on)
        else:
            serve_socket(peer, number, told, go_on)
    except KeyboardInterrupt:
        pass
    except OSError as why:
        sys.stderr.write(f"port {number}: {why.strerror}.\n")
        return BAD_INPUT
    return 0


def solved(
    path: Path, project: Project, name: str | None, working: str | None, uncertainty: bool = False, learn: bool = False,
) -> str:
    """The output of `solve`. Raises BadFile for an axis or a quantity that is not there."""
    from urban_mule.store.document.project import SUBJECT_KEYS
    from urban_mule.store.solve import open_solution, solve_axis, solve_project, solve_subject
    from urban_mule.store.text_files import BadFile

    axes = [axis for axis in project.axes if name in (None, axis.name)]
    if not axes:
        there = ", ".join(axis.name for axis in project.axes)
        raise BadFile(f"{path}: axes: there is no axis {name!r}; there is {there}.")
    solutions = {axis.name: solve_axis(project, axis) for axis in project.axes}
    together = solve_project(project, solutions)
    if working is None:
        others = {key: {one.name: open_solution(solve_subject(project, one)) for one in getattr(project, key) or ()}
                  for key in SUBJECT_KEYS[1:]}
        found = {axis.name: open_solution(solutions[axis.name]) for axis in axes}
        if uncertainty:
            from urban_mule.store.doubts import open_doubts

            found = {axis.name: {**found[axis.name], **open_doubts(project, axis, solutions[axis.name])} for axis in axes}
        if learn:
            from urban_mule.store.learning import open_learning

            found = {axis.name: {**found[axis.name], **open_learning(project, axis, solutions[axis.name])} for axis in axes}
        return json.dumps({"axes": found, "project": open_solution(together), **others}, ensure_ascii=False, allow_nan=False) + "\n"
    from urban_mule.core.sheet.working import working_of, working_text

    of_project = working in together.sheet.quantities
    text = []
    for title, solution in [("the project", together)] if of_project else [(f"axis {a.name}", solutions[a.name]) for a in axes]:
        if working not in solution.sheet.quantities and working not in solution.sheet.inputs:
            raise BadFile(f"{path}: {title}: there is no quantity {working!r} on this kind of axis.")
        text += [*([f"{title}\n"] if len(axes) > 1 and not of_project else []), working_text(working_of(solution, working))]
    return "".join(text)
