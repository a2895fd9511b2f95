"""From the document to the sheet, and from its solution to open numbers."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from datetime import UTC, datetime
from types import MappingProxyType
from typing import Any

import numpy as np

from urban_mule.core.brief.fits import BoughtPart, BoughtParts, PartSizes
from urban_mule.core.drive.interface import SIGNALS
from urban_mule.core.drive.together import AxisTogether, MadeMove, SpindleTogether
from urban_mule.core.drive.wiring import DriverWiring
from urban_mule.core.load.assumed import FRICTION
from urban_mule.core.load.cycle import Move
from urban_mule.core.load.fellow import Fellow
from urban_mule.core.load.pair import MOTORS
from urban_mule.core.motor.printed import PrintedCurve
from urban_mule.core.moves.coils import COUNTS, coils_of, phase_of, typed_resistances
from urban_mule.core.moves.machine_cycle import MachineStep, moves_of
from urban_mule.core.readings.kind import ReadingKind
from urban_mule.core.readings.kinds import reading_kinds
from urban_mule.core.sheet.given import BadValue, givens
from urban_mule.core.sheet.quantity import Unknown
from urban_mule.core.sheet.sheet import Sheet
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.verdict import Verdict
from urban_mule.core.slack.trend import DatedReversal
from urban_mule.core.subjects import KINDS, OWN, axis_sheet, sheet_of
from urban_mule.core.train.known import USUAL_SPREAD
from urban_mule.store.alike import follower_differences, pair_differences
from urban_mule.store.document.identity import Named
from urban_mule.store.document.once import OnceEach
from urban_mule.store.document.pairs import pair_inputs
from urban_mule.store.document.project import Axis, Project
from urban_mule.store.document.readings import Reading
from urban_mule.store.document.spindles import SpindleModel
from urban_mule.store.document.to_core import core_train, record

SECONDS_A_DAY = 86_400.0
COMPARED = 2  # long records that are looked at together
ALSO_SHOWN = ("current_peak",)  # given, and part of the contract of the output


core_steps = OnceEach(lambda steps: tuple(record(MachineStep, one) for one in steps))
core_cycle = OnceEach(lambda cycle: tuple(record(Move, move) for move in cycle))


def axis_inputs(project: Project, axis: Axis) -> dict[str, Any]:
    """What the sheet of this axis takes, from the document; None where the user does not know."""
    sheet = axis_sheet(axis.motion, axis.motor_kind)
    inputs: dict[str, Any] = dict.fromkeys(sheet.inputs)
    inputs |= {name: one.default for name, one in sheet.inputs.items() if one.default is not None}
    inputs |= _said(project, sheet) | own_inputs(axis)
    inputs["parts_bought"] = parts_bought(project, axis)
    inputs["pulses_shared"] = project.pulses_shared
    other = project.fellow_of(axis)
    if other is not None:
        inputs |= {"motor_count": int(MOTORS), "fellow": fellow(other), "follower_differences": pair_differences(axis, other)}
    run, reversal = (_gauge_of(project, axis.last_reading(kind)) for kind in ("positioning", "reversal"))
    inputs["proof_gauge_uncertainty"] = _with_reference(run, axis.last_reading("positioning"))
    inputs["proof_gauge_hysteresis"] = getattr(run, "gauge_hysteresis", None)
    inputs["proof_gauge_expansion"] = getattr(run, "gauge_expansion", None)
    inputs["proof_temperature_uncertainty"] = _condition(axis.last_reading("positioning"), "temperature_uncertainty")
    inputs["reversal_gauge_resolution"] = getattr(reversal, "resolution", None)
    inputs["reversal_gauge_hysteresis"] = getattr(reversal, "gauge_hysteresis", None)
    return inputs


OF_THE_FELLOW = ("moved_inertia", "gravity_load", "peak_load", "top_acceleration", "top_speed", "tone_tension", "push_compliance")


def _fellow(axis: Axis) -> Fellow:
    """What the other axis of a pair needs to know of this one, as far as it is known."""
    sheet = axis_sheet(axis.motion, axis.motor_kind)
    inputs = {name: one.default for name, one in sheet.inputs.items()} | own_inputs(axis) | {"motor_count": int(MOTORS)}
    alone = sheet.solve(**inputs)
    numbers = {name: alone.get(name) for name in OF_THE_FELLOW}
    if axis.motor_kind == "servo":
        numbers |= {"velocity_gain": alone.get("velocity_gain_to_set"), "position_gain": alone.get("position_gain_to_set"),
                    "velocity_integral": alone.get("velocity_integral"), "loop_inertia": alone.get("loop_inertia")}
    push = alone.get("push_reading")
    return Fellow(name=axis.name, push_direction="" if push is None else push.direction, pieces=alone.get("cycle_pieces"),
                  loads=alone.get("cycle_loads"),
                  **{name: float(value) for name, value in numbers.items() if value is not None})


fellow = OnceEach(_fellow)


def _with_reference(gauge: Any, reading: Reading | None) -> float | None:
    """The standard uncertainty of a run's gauge with that of the faces it was held against; None where neither is said."""
    own = getattr(gauge, "gauge_uncertainty", None)
    faces = _condition(reading, "reference_uncertainty")
    return own if faces is None else math.hypot(own or 0.0, faces)


def _condition(reading: Reading | None, name: str) -> float | None:
    """A number that held while a reading was taken; None where nobody said it."""
    found = None if reading is None else (reading.conditions or {}).get(name)
    return float(found) if isinstance(found, (int, float)) and math.isfinite(found) and found >= 0 else None


def _gauge_of(project: Project, reading: Reading | None) -> Any:
    """The gauge that took a reading, as the project keeps it, or None."""
    return next((one for one in project.gauges or () if reading is not None and one.name == reading.gauge), None)


def _said(part: Any, sheet: Sheet, aliases: Mapping[str, str] = MappingProxyType({})) -> dict[str, Any]:
    """What a part of the document says of the inputs of a sheet; aliases: what a key is called there."""
    named = ((aliases.get(key, key), value) for key, value in ({} if part is None else vars(part)).items())
    return {name: value for name, value in named if value is not None and name in sheet.inputs and not sheet.inputs[name].structure}


def _own_inputs(axis: Axis) -> dict[str, Any]:
    """What an axis by itself says of the inputs of its sheet, whatever else is in the project."""
    sheet = axis_sheet(axis.motion, axis.motor_kind)
    aliases = {key: name for (_, key), name in KINDS[axis.kind_name].called.items()}
    inputs: dict[str, Any] = {}
    for part in (axis, axis.motor, axis.driver, axis.controller):
        inputs |= _said(part, sheet, aliases if part is axis.motor else MappingProxyType({}))
    inputs["unit"] = axis.unit
    inputs["other_modes"] = tuple(float(one.frequency) for one in axis.mode_names or ()) or None
    inputs["assumed"] = assumed_losses(axis)
    inputs["follower_differences"] = follower_differences(axis)
    if axis.train is not None:
        inputs["train"] = core_train(axis.train)
    if axis.cycle is not None:
        inputs["cycle"] = core_cycle(axis.cycle)
    inputs["printed_curves"] = printed_curves(axis.motor)
    inputs["coil_resistance"] = coil_resistance(axis)
    inputs["switch_banks"] = (axis.driver.core_banks or None) if axis.driver is not None and axis.motor_kind == "stepper" else None
    return inputs | readings_inputs(axis.readings)


own_inputs = OnceEach(_own_inputs)


def coil_resistance(axis: Axis) -> float | None:
    """The resistance of a phase by the ohmmeter [Ω]; None where no coil is measured, or something is wrong with them."""
    if not axis.coil_resistances or axis.motor_kind != "stepper":
        return None
    leads = int(getattr(axis.motor, "leads", None) or min(COUNTS))
    try:
        return phase_of(coils_of(typed_resistances(axis.coil_resistances), leads), leads)
    except BadValue:
        return None


def printed_curves(motor: Any) -> tuple[PrintedCurve, ...] | None:
    """The curves that are printed of a motor of the document; None where there are none."""
    return tuple(one.core for one in getattr(motor, "printed_curves", None) or ()) or None


def parts_bought(project: Project, axis: Axis) -> BoughtParts | None:
    """The parts of an axis with their sizes, as far as they are entered; None where no part has any."""
    sizes = {one.name for one in givens(PartSizes)}
    found = []
    controller = f"controller {axis.controller.name}" if axis.controller is not None else ""
    for order in (*(axis.parts or ()), *(one for one in project.parts or () if one.slot == controller)):
        said = {name: value for name in sizes if (value := getattr(order, name, None)) is not None}
        link = order.slot.removeprefix("train ")
        if said:
            slot = "controller" if order.slot == controller else order.slot
            found.append(BoughtPart(slot=int(link) if link.isdigit() and link != order.slot else slot, **said))
    if not found:
        return None
    frame = getattr(axis.motor, "frame", None)
    if frame is not None and not any(one.slot == "motor" and one.frame is not None for one in found):
        shaft = next((one.shaft for one in found if one.slot == "motor"), None)
        found = [BoughtPart(slot="motor", shaft=shaft, frame=frame), *(one for one in found if one.slot != "motor")]
    motors = (one.motor for one in (axis, axis.following) if one is not None and one.motor is not None)
    torques = [torque for motor in motors for name in ("holding_torque", "peak_torque")
               if (torque := getattr(motor, name, None)) is not None]
    mode = None if axis.driver is None else axis.driver.interface_mode
    return BoughtParts(tuple(found), max(torques, default=None), mode)


def of_readings(readings: tuple[Reading, ...]) -> dict[str, Any]:
    """What the readings of an axis give its sheet: of each kind the last one and all, set-aside ones and struck rows left out."""
    counted = [reading for reading in readings if not reading.aside]
    found: dict[str, Any] = {}
    for kind, declared in reading_kinds().items():
        own = _counting(counted, declared)
        newest = own[-COMPARED:] if declared.wide else own  # long ones are loaded when somebody asks for them
        found[f"{kind}_readings"] = tuple(reading.core for reading in newest) or None
        found[f"{kind}_reading"] = (found[f"{kind}_readings"] or (None,))[-1]
        if declared.apart:
            found[f"{declared.apart}_reading"] = next((one.core for one in reversed(counted) if one.kind == kind
                                                       and declared.is_apart(one)), None)
    found["scale_reading"] = next((one.core for one in reversed(counted) if one.kind in ("travel", "lengths")), None)
    found["reversal_history"] = tuple(DatedReversal(day, one.core) for one in counted
                                      if one.kind == "reversal" and (day := day_of(one.taken)) is not None) or None
    return found


readings_inputs = OnceEach(of_readings)


def newest_records(readings: tuple[Reading, ...]) -> tuple[Any, ...]:
    """The long records among the readings of an axis that its sheet gets, without the others being looked at."""
    declared = reading_kinds()["acceleration"]
    return tuple(one.core for one in _counting(readings, declared)[-COMPARED:])


def _counting(readings: Iterable[Reading], declared: ReadingKind) -> list[Reading]:
    """The sets of a kind that count among the others of their kind."""
    return [one for one in readings if one.kind == declared.name and not one.aside and not declared.is_apart(one)]


def day_of(taken: str) -> float | None:
    """The day on which readings were taken, counted from a fixed one, from an ISO date or time (UTC unless it says); else None."""
    try:
        time = datetime.fromisoformat(taken)
    except ValueError:
        return None
    return (time if time.tzinfo else time.replace(tzinfo=UTC)).timestamp() / SECONDS_A_DAY


def axis_tolerances(axis: Axis) -> dict[str, float]:
    """Every tolerance of an axis by the label of its input on the sheet, as a share of the value."""
    aliases = {key: name for (_, key), name in KINDS[axis.kind_name].called.items()}
    found = {}
    for part in (axis, axis.motor, axis.driver, axis.controller):
        for key, share in (getattr(part, "tolerances", None) or {}).items():
            found[aliases.get(key, key) if part is axis.motor else key] = share
    for name in ("train", "cycle"):
        for place, record_ in enumerate(getattr(axis, name) or ()):
            found |= {f"{name}[{place}].{key}": share for key, share in (record_.tolerances or {}).items()}
    return found


def assumed_losses(axis: Axis) -> tuple[str, ...] | None:
    """What of the losses of an axis nobody has said, by the names that the core gives them; None where all is said."""
    said = any(getattr(axis, name, None) is not None for name in ("friction_coefficient", "friction_force", "friction_torque"))
    play = (f"train[{place}].clearance" for place, stage in enumerate(axis.train or ())
            if getattr(stage, "clearance", 0.0) is None)
    rubs = () if said and "friction_coefficient" not in (axis.usual or ()) else (FRICTION,)
    ends = (f"train[{place}].end_support" for place, stage in enumerate(axis.train or ())
            if "end_support" in (getattr(stage, "usual", None) or ()))
    found = (*rubs, *assumed_tolerances(axis), *play, *ends)
    return found or None


ASSUMED_SPREAD = 0.1  # half width of an efficiency that nobody has said, as a share of it


def assumed_tolerances(axis: Axis) -> dict[str, float]:
    """What a spread varies although nobody has said it: the efficiencies that are taken as ideal, or as is usual."""
    ideal = {f"train[{place}].efficiency": ASSUMED_SPREAD for place, stage in enumerate(axis.train or ())
             if getattr(stage, "efficiency", 1.0) is None}
    usual = ((place, getattr(stage, "efficiency", None)) for place, stage in enumerate(axis.train or ())
             if "efficiency" in (getattr(stage, "usual", None) or ()))
    return ideal | {f"train[{place}].efficiency": USUAL_SPREAD * (1 - share) for place, share in usual if share and share < 1}


def solve_axis(project: Project, axis: Axis) -> Solution:
    """The solution of one axis. Raises BadValue."""
    return axis_sheet(axis.motion, axis.motor_kind).solve(**axis_inputs(project, axis))


OF_EACH_AXIS = ("current_rms", "peak_power", "stopping_energy", "regenerated_energy", "cycle_duration", "voltage_limit",
                "pulse_rate", "microsteps")


def axis_together(axis: Axis, solution: Solution, in_cycle: bool = False) -> AxisTogether:
    """What a project takes of an axis; in_cycle: its moves, too, since the machine's cycle makes them."""
    def plain(value: Any) -> float | None:
        return None if value is None else float(value)

    heat = "copper_loss" if axis.motor_kind == "stepper" else "cycle_copper_loss"
    return AxisTogether(
        name=axis.name, stepper=axis.motor_kind == "stepper", motor_count=float(solution.get("motor_count") or 1),
        windings=float(axis.motor_count or 1),
        own_supply=None if axis.driver is None else axis.driver.supply_voltage, copper_loss=plain(solution.get(heat)),
        timing=pulse_timings(axis), moves=_moves_of(axis, solution) if in_cycle else (),
        **{name: plain(solution.get(name)) for name in OF_EACH_AXIS})


def _moves_of(axis: Axis, solution: Solution) -> tuple[MadeMove, ...]:
    """The moves of an axis, each until it has settled; none while its torque is not known."""
    torque = solution.get("cycle_torque")
    if torque is None:
        return ()
    waits = sum(float(solution.get(name) or 0.0) for name in ("shaper_duration", "settle_time"))
    repeats = tuple(int(move.repeat or 1) for move in axis.cycle or ())
    return moves_of(torque, float(solution.get("motor_count") or 1), repeats, waits)


def _wirings_of(axis: Axis) -> list[DriverWiring]:
    """Where the signals of each driver of an axis go."""
    found = []
    for motor, one in ((axis.name, axis), (f"{axis.name} follower", axis.following)):
        driver = None if one is None else one.driver
        if one is None or driver is None:
            continue
        terminals = driver.terminals
        if one is not axis and axis.follower is not None and axis.follower.driver is not None:
            terminals = axis.follower.driver.terminals
        elif one is not axis:
            terminals = None
        found.append(DriverWiring(
            motor=motor, axis=axis.name, interface_mode=driver.interface_mode, bus_address=driver.bus_address,
            terminals=() if terminals is None else tuple((signal, getattr(terminals, signal)) for signal in SIGNALS),
            brake=one.motor is not None and one.motor.brake_torque is not None, fan=driver.cooling == "fan"))
    return found


pulse_timings, wirings_of = OnceEach(lambda axis: axis.pulse_timings), OnceEach(_wirings_of)


def project_inputs(project: Project, axes: Iterable[tuple[AxisTogether, Iterable[DriverWiring]]]) -> dict[str, Any]:
    """What the sheet of the project takes; axes: what it takes of each of them."""
    sheet, axes = sheet_of("machine"), tuple(axes)
    inputs: dict[str, Any] = {name: one.default for name, one in sheet.inputs.items()}
    inputs |= {key: value for key, value in project if key in inputs and value is not None}
    inputs |= pair_inputs(project.readings)
    inputs["machine_cycle"] = core_steps(project.machine_cycle) if project.machine_cycle else None
    inputs["axes_together"] = tuple(axis for axis, _ in axes)
    inputs["spindles_together"] = tuple(spindle_together(project, one) for one in project.spindles or ()) or None
    inputs["wirings"] = tuple(one for _, wirings in axes for one in wirings)
    return inputs


AT_ITS_BEST = {"motor_efficiency": 1.0, "motor_power_factor": 1.0}


def spindle_together(project: Project, spindle: SpindleModel) -> SpindleTogether:
    """What a project takes of a drive that turns a tool; what it draws at least counts what is not given at its best."""
    solution = solve_subject(project, spindle)
    drawn = solution.find("spindle_input_current")
    lacking = drawn.missing if isinstance(drawn, Unknown) else ()
    best = solution.changed(**{name: best for name, best in AT_ITS_BEST.items() if name in lacking}) if lacking else solution
    current, least, coast = (None if (found := one.get(name)) is None else float(found) for one, name in (
        (solution, "spindle_input_current"), (best, "spindle_input_current"), (solution, "spindle_coast_time")))
    return SpindleTogether(spindle.name, current, least, coast, tuple(solution.sheet.label(name) for name in lacking))


def solve_project(project: Project, solutions: Mapping[str, Solution]) -> Solution:
    """The solution of what belongs to all axes together. Raises BadValue."""
    return sheet_of("machine").solve(**project_inputs(
        project, ((axis_together(axis, solutions[axis.name], project.in_cycle(axis)), wirings_of(axis)) for axis in project.axes)))


def subject_inputs(project: Project, part: Named) -> dict[str, Any]:
    """What the sheet of a subject takes that is no axis, from the document; None where the user does not know."""
    kind = KINDS[part.kind_name]
    inputs: dict[str, Any] = {name: one.default for name, one in sheet_of(kind.name).inputs.items()}
    for of in kind.parts:
        held = part if of == OWN else getattr(part, of, None)
        for key, value in () if held is None else vars(held).items():
            name = kind.name_of(of, key)
            if value is not None and name in inputs and key in getattr(held, "givens", {}):
                inputs[name] = value
    inputs |= {name: getattr(project, name, None) for name in kind.takes}
    for name, _, _ in kind.structures:
        said = getattr(part, name, None)
        inputs[name] = None if said is None else said.core
    return inputs


def solve_subject(project: Project, part: Named) -> Solution:
    """The solution of a subject that is no axis. Raises BadValue."""
    return sheet_of(part.kind_name).solve(**subject_inputs(project, part))


def open_value(value: Any) -> Any:
    """A value as strict JSON holds it."""
    if isinstance(value, (np.floating, np.integer)):
        return value.item()
    if isinstance(value, np.ndarray):
        return value.item() if value.ndim == 0 else value.tolist()
    return value


def open_solution(solution: Solution) -> dict[str, Any]:
    """Quantities, unknowns and verdicts of a solution as JSON holds them."""
    names = [q.name for q in solution.sheet.quantities.values() if not q.structure]
    names += [name for name in ALSO_SHOWN if name in solution.sheet.inputs]
    with solution.quiet():
        found = {name: solution.find(name) for name in names}
    return {
        "quantities": {name: open_value(v) for name, v in found.items() if not isinstance(v, Unknown)},
        "unknown": {name: v.reason for name, v in found.items() if isinstance(v, Unknown) and v.applies},
        "verdicts": [open_verdict(verdict) for verdict in solution.verdicts()],
    }


def open_verdict(verdict: Verdict) -> dict[str, str]:
    """A verdict as JSON holds it."""
    return {name: getattr(verdict, name) for name in ("check", "stage", "level", "sentence", "next", "school")
            if getattr(verdict, name) or name != "school"}
