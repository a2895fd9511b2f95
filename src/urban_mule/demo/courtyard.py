"""The Courtyard mosaic layer: a gantry that picks small tiles and presses them into wet mortar. Everything is invented.

Its history: X moved too far by 6/5, which gave away a pulley written down wrong; its steps per unit were set anew, and two
rounds of measuring followed, one before and one after the carriage preload was set.
"""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from pathlib import Path

from urban_mule.bench.sessions.carried import usual, walk
from urban_mule.bench.sessions.rounds import plan_of
from urban_mule.core.moves.stall import HELD, StallStand, StallTrial, stall_stand
from urban_mule.demo.machine import (
    ANSWERED,
    BOUGHT,
    DECIDED,
    DISC,
    MACHINE_CYCLE,
    OF_AXES,
    RAILS,
    SUPPLY,
    TENSION,
    C,
    W,
    X,
    Y,
    Z,
    with_library_driver,
)
from urban_mule.demo.measured import DAYS, GAUGES, Day, machine_by, measured, two_axes, with_machines
from urban_mule.store.commissioning import facts_of, station_stands
from urban_mule.store.document.edit import edited
from urban_mule.store.document.project import Project
from urban_mule.store.document.readings import SIMULATED
from urban_mule.store.file.project_file import ProjectFile
from urban_mule.store.solve import solve_axis

BEGUN = datetime(2026, 9, 7, 8, 30, tzinfo=UTC)


def demo_project() -> Project:
    """The demo project as first written down, without readings."""
    return with_machines(Project.model_validate({
        "format": "urban-mule/1", "name": "Courtyard mosaic layer", "practice": True, "ambient_temperature": 22.0, **SUPPLY,
        "axes": [with_library_driver({**axis, "parts": OF_AXES[axis["name"]]}) for axis in (X, Y, Z, C, W)], "spindles": [DISC],
        "machine_cycle": MACHINE_CYCLE,
        "decisions": DECIDED, "safety": ANSWERED, "parts": BOUGHT, "budget": 3200.0, "debounce_time": 0.005,
        "gauges": GAUGES,
        "notes": "Lays stone and glass tiles of 20 to 60 mm on panels of 900 x 600 mm. Quiet enough for a courtyard.",
    }))


def set_on_hardware(file: ProjectFile, project: Project, time: datetime, names: tuple[str, ...]) -> None:
    """Record values of X as set on the hardware, as computed for this project."""
    solution = solve_axis(project, project.axis("X"))
    basis = {name: solution.get(name) for name in ("microsteps", "current_peak", "travel_per_turn", "top_speed")}
    switches = " ".join(one.positions for one in solution["bank_settings"])
    file.apply(project.axis("X").id, {name: switches if name == "switches" else solution.get(name) for name in names}, basis, time)


def first_drivers(file: ProjectFile, project: Project) -> None:
    """The first build of the other drivers: Z's current typed as it was meant, whatever resistor the settings assume."""
    time, who = BEGUN + timedelta(hours=4), {axis.name: axis.id for axis in project.axes}
    z, y, c = (solve_axis(project, project.axis(name)) for name in ("Z", "Y", "C"))
    task = next(one.id for one in project.axis("Z").maintenance or ())
    typed = round(z["current_rms"], 2)
    file.apply(who["Z"], {"current_entry_value": typed, "microsteps": z["microsteps"], "steps_per_unit": z["steps_per_unit"]},
               {"current_peak": z["current_peak"]}, time)
    file.write_entry(who["Z"], "maintained", "grease the screw and its nut", time, task=task)
    file.write_entry(who["Z"], "set", f"Typed {typed:g} A RMS. The settings of the single wire assume a sense resistor of 75 mΩ.",
                     time)
    file.apply(who["Y"], {"reference_voltage": y["reference_voltage"], "microsteps": y["microsteps"],
                     "steps_per_unit": y["steps_per_unit"], "switches": "110"},
               {"current_peak": y["current_peak"]}, time)
    file.apply(who["Y"], {"switches": "001", "reference_voltage": y["reference_voltage"]},
               {"current_peak": y["current_peak"]}, time, motor=2)
    file.apply(who["C"], {"current_register": c["current_register"], "microsteps": c["microsteps"]},
               {"current_peak": c["current_peak"]}, time)


def climbed(file: ProjectFile, project: Project, taken: datetime) -> Project:
    """A ladder on X, and its torque factor adopted: from then on the sheet reckons with what the motor really gives."""
    axis = project.axis("X")
    machine = machine_by(project, Day("X", 38.125, {}, ""))
    plan = plan_of(axis, machine.solution)
    columns = walk("ladder", plan, usual("ladder", plan), machine, lambda *_: True)
    reading = {"kind": "ladder", **columns, "taken": taken.isoformat(), "device": SIMULATED, "source": "practice"}
    project = edited(project, ("axes", 0, "readings"), (*project.axes[0].readings, reading))
    file.commit(project, "X: ladder", taken)
    held, lost = solve_axis(project, project.axis("X"))["torque_bounds"]
    file.write_entry(axis.id, "measured", f"Ladder of speeds: lost steps at {lost:.0%} of the computed torque, held at {held:.0%}.",
                     taken)
    factor = round((held + lost) / 2, 3)
    adopted = {"part": "motor", "given": "torque_factor", "value": factor, "taken": taken.isoformat(),
               "source": f"torque of the motor, measured by {taken.day} {taken:%B %Y}"}
    project = edited(edited(project, ("axes", 0, "motor", "torque_factor"), factor), ("axes", 0, "adopted"), [adopted])
    file.commit(project, "X: torque as the ladder measured it", taken + timedelta(minutes=20))
    return project


SEEN = {"coils": "Green and black are A, red and blue are B; 0.5 Ω each.",
        "cable slack at full travel": "The chain lifts at the last 30 mm towards plus; one more clip wanted."}


def first_power(project: Project) -> Project:
    """All were put together station by station; on X one was seen otherwise, and one thing is set only for now."""
    for place, axis in enumerate(project.axes):
        seen, solution = SEEN if place == 0 else {}, solve_axis(project, axis)
        facts, taken = facts_of(project, axis, solution), (BEGUN - timedelta(hours=20 - 2 * place)).isoformat()
        answers = [{"station": one.station.name, "state": "otherwise" if "clip" in seen.get(one.station.name, "") else "done",
                    "by": "the first builder", "taken": taken, "note": seen.get(one.station.name, ""),
                    "conditions": {name: facts[name] for name in one.station.rests_on if name in facts}}
                   for one in station_stands(project, axis, solution)]
        project = edited(project, ("axes", place, "stations"), answers)
    waiting = [{"set": "guard over the belt off, to see it run", "since": BEGUN.isoformat()}]
    return edited(project, ("axes", 0, "for_now"), waiting)


Told = Callable[[ProjectFile, Project, datetime], Project]  # what happens at a time: the project after it
IN_WORDS = {"acceleration": "vibration", "tone": "belt tone", "drag": "drag at the shaft", "ripple": "a test piece",
            "warming": "warmth of the motor", "drift": "growth while warming"}


def place_of(project: Project, name: str) -> int:
    """Which axis of the project has this name."""
    return [axis.name for axis in project.axes].index(name)


def measuring(day: Day) -> Told:
    """A day of measuring."""
    def told(file: ProjectFile, project: Project, time: datetime) -> Project:
        place = place_of(project, day.axis)
        said = ", ".join(IN_WORDS.get(kind, kind) for kind in day.plans)
        readings = (*project.axes[place].readings, *measured(project, day, time))
        project = edited(project, ("axes", place, "readings"), readings)
        file.commit(project, f"{day.axis}: {said}", time)
        file.write_entry(project.axis(day.axis).id, "measured", f"{said[:1].upper()}{said[1:]}: {day.note}.", time)
        return project

    return told


def writing(axis: str, kind: str, text: str, cost: float | None = None) -> Told:
    """An entry in the book; of upkeep when the text is that of a task."""
    def told(file: ProjectFile, project: Project, time: datetime) -> Project:
        task = next((one.id for one in project.axis(axis).maintenance or () if one.task == text), "")
        file.write_entry(project.axis(axis).id, kind, text, time, cost=cost, task=task)
        return project

    return told


def naming(axis: str, near: float, rings: str) -> Told:
    """What rings beside the train is named, at the hump nearest to a frequency [Hz]."""
    def told(file: ProjectFile, project: Project, time: datetime) -> Project:
        place = place_of(project, axis)
        modes = solve_axis(project, project.axes[place])["modes"]
        frequency = round(min(modes, key=lambda mode: abs(float(mode.frequency) - near)).frequency, 1)
        project = edited(project, ("axes", place, "mode_names"), [{"rings": rings, "frequency": frequency}])
        file.commit(project, f"{axis}: at {frequency:g} Hz rings the {rings}", time)
        return project

    return told


def squared(file: ProjectFile, project: Project, time: datetime) -> Project:
    """Circle and diagonals of X and Y."""
    project = edited(project, ("readings",), two_axes(project, time))
    file.commit(project, "circle and diagonals of X and Y", time)
    file.write_entry(project.axis("X").id, "measured", "Circle and diagonals of X and Y: out of square by the beam, play at the"
                     " quadrants of Y.", time)
    return project


CRASHES_ABOVE, EARLY_BELOW = 104, 71  # of C: thresholds at which a stall is not felt, and at which a move alone is taken for one


def stalled(file: ProjectFile, project: Project, time: datetime) -> Project:
    """The search for the threshold at which C takes its stop for the end."""
    place, trials = place_of(project, "C"), []  # type: int, list[StallTrial]
    axis = project.axes[place]
    solution = solve_axis(project, axis)

    def stand() -> StallStand:
        return stall_stand(int(axis.stall_lowest), int(axis.stall_highest), str(axis.stall_greater_is), trials)

    while (following := stand().next) is not None:
        answer = "crashed" if following > CRASHES_ABOVE else "early" if following < EARLY_BELOW else "good"
        trials.append(StallTrial(following, answer))
    held = {name: float(solution[name]) for name in HELD}
    made = [{"threshold": one.threshold, "answer": one.answer, "conditions": held} for one in trials]
    project = edited(project, ("axes", place, "stall_trials"), made)
    project = edited(project, ("axes", place, "stall_threshold"), stand().found)
    file.commit(project, f"C: stall threshold {stand().found}", time)
    file.write_entry(axis.id, "set", f"Stall threshold {stand().found}, after {len(trials)} trials onto the stop.", time)
    return project


SANG = 0.97  # of the gain at which the loop is computed to sing: where the builder heard it


def sang(file: ProjectFile, project: Project, time: datetime) -> Project:
    """The velocity gain of W is turned up until it sings."""
    place = place_of(project, "W")
    gain = round(SANG * float(solve_axis(project, project.axes[place])["singing_gain"]), 4)
    project = edited(project, ("axes", place, "driver", "velocity_gain"), gain)
    file.commit(project, "W: velocity gain up until it sang", time)
    file.write_entry(project.axes[place].id, "note", "The velocity gain was turned up until the trough sang on its screw.", time)
    return project


def gains_set(file: ProjectFile, project: Project, time: datetime) -> Project:
    """The gains of W are those of the loop's limit."""
    place = place_of(project, "W")
    project = edited(project, ("axes", place, "driver", "velocity_gain"), None)
    file.commit(project, "W: gains by the limit of the loop", time)
    solution = solve_axis(project, project.axes[place])
    file.apply(project.axes[place].id, {
        "velocity_gain_to_set": float(f"{float(solution['velocity_bandwidth_limit']):.3g}"),
        "velocity_integral_to_set": float(f"{1e3 * float(solution['velocity_integral_to_set']):.3g}"),
        "position_gain_to_set": float(f"{float(solution['position_gain_to_set']):.3g}")},
               {name: float(solution[name]) for name in ("loop_inertia", "first_axial_mode", "axial_damping")}, time)
    file.write_entry(project.axes[place].id, "set", "Velocity gain, integral and position gain as computed, in the drive.", time)
    return project


def story() -> list[tuple[float, Told]]:
    """All that happened after the first build, with its day."""
    return [
        *((day.days, measuring(day)) for day in DAYS),
        (12, writing("X", "repaired", "Carriage preload set until the slide just drags; belt tensioned.", cost=18.0)),
        (12.1, writing("X", "maintained", TENSION)),
        (13, writing("Y", "repaired", "New pinions of hard steel, pressed to the rack with a strip of paper between.", cost=44.0)),
        (25, writing("Z", "repaired", "Nut of the screw preloaded: it turns without play, and not heavily.", cost=12.0)),
        (30, writing("C", "repaired", "Reduction closed up by a shim of 0.05 mm.", cost=6.0)),
        (53, writing("Y", "repaired", "Rack wiped and oiled over its whole length.", cost=4.0)),
        (37, writing("Y", "note", "The follower's driver was replaced; its microstep switches are still as delivered.")),
        (38.1, naming("X", 71.0, "frame")), (38.125, climbed), (38.2, squared),
        (39, writing("X", "due", "Look at the belt tension again after 40 km of travel or in March.")),
        (41, writing("X", "maintained", RAILS)), (46, writing("Z", "maintained", "try the brake")),
        (50, stalled), (54.1, sang), (54.4, gains_set), (55.1, naming("W", 61.0, "frame")),
        (60, writing("W", "repaired", "Wiper of the screw renewed; the sand had got past it.", cost=9.0))]


def build_demo(path: Path) -> ProjectFile:
    """The demo project with its history, written to a new file. Raises BadFile."""
    built = first_power(demo_project())
    wrong_pulley = edited(built, ("axes", 0, "train", 1, "teeth"), 20)
    file = ProjectFile.create(path, wrong_pulley, BEGUN)
    day, who = timedelta(days=1), {axis.name: axis.id for axis in built.axes}
    file.write_entry(who["X"], "note", "First build. The belt pulley was written down as 20 teeth.", BEGUN)
    set_on_hardware(file, wrong_pulley, BEGUN + timedelta(hours=2),
                    ("steps_per_unit", "microsteps", "switches", "hold_fraction", "top_speed"))
    first_drivers(file, wrong_pulley)
    file.write_entry(who["X"], "measured", "The axis moves 1.2 times what is commanded: 6/5. No calibration, a wrong pulley.",
                     BEGUN + day)
    project = built
    file.commit(project, "X: pulley counted, 24 teeth", BEGUN + day + timedelta(hours=1))
    set_on_hardware(file, project, BEGUN + day + timedelta(hours=2), ("steps_per_unit",))
    file.write_entry(who["X"], "set", "Counted the pulley: 24 teeth. Steps per unit set anew on the controller, before anything"
                     " else is measured.", BEGUN + day + timedelta(hours=2))
    for days, told in sorted(story(), key=lambda one: one[0]):
        project = told(file, project, BEGUN + days * day)
    return file
