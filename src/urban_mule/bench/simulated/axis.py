"""One simulated axis that stands in for mover, indicator and accelerometer.

What it should do comes from the solved project; what it does is integrated in time of the axis as it really is, which a hidden
truth with a seed makes up. Nothing is planted that follows by itself.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field, replace

import numpy as np

from urban_mule.bench.devices import LONGEST_RECORD, RESTING, DeviceError
from urban_mule.bench.simulated.body import practised
from urban_mule.bench.simulated.motion import (
    ANGLE,
    GENTLE_STEP,
    MOVING,
    PLACE,
    RATE,
    STEP,
    TURNING,
    at_rest,
    integrated,
    ramps,
    through_shaper,
)
from urban_mule.bench.simulated.truth import MOVES, RACKS, Truth
from urban_mule.core.motor.heat import room_to_cool, steady_rise
from urban_mule.core.readings.straight_line import straight_line
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.train.links import Belt

ONE_AXIS = "this bench moves one axis; a circle wants two"
SAMPLE_RATE = float(RATE)  # Hz
LONGEST_TRACE, TRACED_BEFORE = 20.0, 0.05  # s of a move that can be traced; before it begins
AT_ONCE = 5.0  # s of a record that are integrated at a time
DRIVER_FIN = 2.0  # what `warmth` touches then
FIN_SHARE = 0.25  # of the time constant of a motor: a fin has less to warm
USUAL_DRIVER_LOSS = 6.0  # W
BURNT = 200.0  # K
USUAL_LOSS, USUAL_RESISTANCE = 10.0, 2.0  # W, K/W of a motor whose own the project does not say
USUAL_PRETENSION = 100.0  # N, of a belt whose own the project does not say
USUAL_TURNING = 0.03  # N·m that turn a shaft whose friction the project does not say
USUAL_SPEED, USUAL_ACCELERATION = 0.4, 4.0  # share of the travel in a second, in a second² where no cycle says more
HAND_SCATTER = 2e-3  # share of what a hand and its tool read

INDICATOR_RANGE = 1e-3  # m (or rad): what lies farther off is read by a scale, which has no sign to be wrong
SHAKES = 0.17  # of the acceleration that the motor could give: how strongly it shakes
WEAKER = (1.0, 0.5, 0.25, 0.1)  # of that: what is tried until a sweep loses no step
TAP, TAP_LASTS = 0.6, 4e-3  # of that acceleration of the load, and s: a tap with a soft hammer
SLOW, SOFT = 0.15, 0.05  # of the top speed and acceleration: how it goes where it is only sent
EVEN_RUN, OUT_OF_STEP = 0.25, 0.8  # s of an even run that are integrated, and of one that loses steps
COMES_TO_REST, SETTLING = 12, np.zeros(round(0.2 / GENTLE_STEP))  # at most so often 0.2 s
AT_REST = 2e-5  # of the travel in a second: slower than that it counts as standing
PUSHES_IN, PUSHED_FOR = 0.25, 0.25  # s
RINGS_ON = 1.2  # s of an even run behind a corner that are looked at
LEAKS = (1.0, 0.12, 0.06)  # of what the carriage does along its axis into each direction of a sensor that sits askew
JAMS_AFTER = 3e-3  # m (or rad) that a beam goes before its two motors have racked it


def goes(solution: Solution, real: Solution) -> float:
    """How far an axis goes for what it is commanded, its settings and parts being really others."""
    meant, really = solution.get("step_length"), real.get("step_length")
    return float(really / meant) if meant and really else 1.0


@dataclass
class SimulatedAxis:
    """A whole machine of one axis: mover, indicator, accelerometer, and the hand of a person beside it.

    solution: the axis as the project has it, by which it is commanded; real: as its parts and settings really are. along: of an
    axis of a pair the stiffness of its train pushed along either diagonal, that of belt A and of belt B [N/m].
    """

    solution: Solution
    truth: Truth = field(default_factory=Truth)
    real: Solution | None = None
    along: tuple[float, ...] = ()
    practice = True

    def __post_init__(self) -> None:
        self._random, real, truth = np.random.default_rng(self.truth.seed), self.real or self.solution, self.truth
        self.travel = float(self.solution.get("travel", 0.5) or 0.5)
        self._period = float(self.solution.get("travel_per_turn", 0.01))
        self._step = float(self.solution.get("step_length", 0.0))
        self._goes = goes(self.solution, real)
        self._count = float(real.get("motor_count", 1))
        self.body = practised(
            real, rotor_damping=truth.rotor_damping, train_damping=truth.train_damping,
            clearance=float(real.get("train_clearance", 0.0)) + truth.looseness,
            clearance_growth=truth.clearance_wear / self.travel, cable_force=truth.cable_force / self._count,
            cable_from=0.5 * self.travel, cable_over=self.travel)
        if truth.frame.mass:
            self.body = replace(self.body, frame_mass=truth.frame.mass * self.body.moved_inertia,
                                frame_frequency=truth.frame.frequency, frame_damping=truth.frame.damping_ratio)
        holds = float(real.get("hold_fraction", 1.0)) or 1.0
        self._idle = replace(self.body, current_peak=holds * self.body.current_peak)
        self._state = at_rest(self.body)
        integrated(self.body, self._state, SETTLING[:1])  # compiled here, so that no first answer waits for it
        self._enabled, self._commanded = False, 0.0
        self._found = self._warming = self._pushed = self._scattered = self._jammed = 0.0
        self._shake: tuple[float, float, float] | None = None
        self._begun: tuple[float, float, float] | None = None
        self._shaper: tuple[tuple[float, float], ...] = ()
        self._tapped = False
        self._pieces: dict[float, tuple[np.ndarray, np.ndarray]] = {}

    @property
    def directions(self) -> str:
        """A letter for each direction that is recorded."""
        return "xyz"[:len(self.truth.frame.weights)]

    def enable(self) -> None:
        self._enabled = True

    def disable(self) -> None:
        self._enabled = False

    def stop(self) -> None:
        self._shake = None

    def position(self) -> float:
        return self._commanded

    def move(self, position: float) -> None:
        """Go to a position and settle there [travel]. Raises DeviceError when it is not enabled, or outside the travel."""
        self._go(position, SLOW * self._top("top_speed", USUAL_SPEED), SOFT * self._top("top_acceleration", USUAL_ACCELERATION),
                 GENTLE_STEP)

    def _top(self, name: str, usual: float) -> float:
        return float(self.solution.get(name) or usual * self.travel)

    def run(self, position: float, speed: float, acceleration: float) -> None:
        """Move at a speed and an acceleration; asked for more torque than it gives the motor loses steps. Raises DeviceError.

        position, speed, acceleration: [travel], [travel]/s, [travel]/s².
        """
        if speed <= 0 or acceleration <= 0:
            raise DeviceError(f"a run at {speed:g} with {acceleration:g} goes nowhere; both are above 0")
        self._go(position, speed, acceleration, STEP)

    def begin(self, position: float, speed: float, acceleration: float) -> None:
        """Begin to move; the next record hears it. Raises DeviceError.

        position, speed, acceleration: [travel], [travel]/s, [travel]/s².
        """
        if speed <= 0 or acceleration <= 0:
            raise DeviceError(f"a move at {speed:g} with {acceleration:g} goes nowhere; both are above 0")
        self._free_to(position)
        self._begun = (position, speed, acceleration)

    def _free_to(self, position: float) -> None:
        """It stands and may go to a position. Raises DeviceError."""
        if not self._enabled:
            raise DeviceError("the axis is not enabled; enable it with a hand on the stop")
        if not -0.02 * self.travel <= position <= 1.02 * self.travel:
            raise DeviceError(f"{position:.6g} lies outside the travel of 0 to {self.travel:.6g}")
        self._arrive()
        self._let_go()

    def _arrive(self) -> None:
        """End a move that was begun and that no record heard."""
        if self._begun is not None:
            begun, self._begun = self._begun, None
            self.run(*begun)

    def _go(self, position: float, speed: float, acceleration: float, step: float) -> None:
        """Go there by integration. An axis is alike along its travel: of a long even run only a part is integrated, more of it
        where it loses steps.
        """
        self._free_to(position)
        far = self._field_at(position) - self._state.commanded
        before, self._commanded = self._commanded, position
        self._scattered = self.truth.scatter * float(self._random.standard_normal())
        if self.truth.shows != MOVES:
            self._jam(position - before)
            return
        was = self._state.copy()
        if self._ran(far, speed, acceleration, step, EVEN_RUN):
            self._state = was
            self._ran(far, speed, acceleration, step, OUT_OF_STEP)

    def _ran(self, far: float, speed: float, acceleration: float, step: float, even: float) -> int:
        """A move with so long an even run [s] at most, and its coming to rest; the steps that it lost."""
        ramp, period = min(speed / acceleration, math.sqrt(abs(far) / acceleration)), self.body.period
        jump = math.copysign(max((abs(far) - acceleration * ramp**2 - even * speed) // period, 0.0) * period, far)
        self._state.parts[ANGLE] += jump / self.body.travel_per_radian
        self._state.parts[PLACE] += jump
        self._state.commanded += jump
        far -= jump
        swing = integrated(self.body, self._state, ramps(far, speed, acceleration, step, 0.0), step=step)
        for _ in range(COMES_TO_REST):
            swing = integrated(self.body, self._state, SETTLING, step=GENTLE_STEP, quiet=AT_REST * self.travel)
            if swing.quiet:
                break
        self._state.parts[MOVING] = self._state.parts[TURNING] = 0.0
        return swing.lost_steps

    def _field_at(self, position: float) -> float:
        """Where the field goes for a commanded position, in whole microsteps, as travel of the load."""
        return (round(position / self._step) * self._step if self._step else position) * self._goes

    def _jam(self, far: float) -> None:
        """Two leads crossed turn nothing; two motors that count differently rack the beam after a few millimetres."""
        if self.truth.shows == RACKS and abs(far) > JAMS_AFTER:
            self._jammed += math.copysign(JAMS_AFTER, far) * float(self._random.uniform(0.0, 0.2))

    def home(self) -> None:
        """The switch answers at the beginning of the travel, with a scatter of its own; lost steps are found again."""
        self._arrive()
        self._state, self._commanded, self._jammed = at_rest(self.body), 0.0, 0.0
        self._found = float(self.truth.homing_scatter * self._random.standard_normal())
        self.move(0.02 * self.travel)
        self.move(0.0)

    def _stands(self) -> float:
        """Where the carriage is on a true scale: the load on its guides, which bow and warm, and a train that is uneven."""
        truth, share = self.truth, self._commanded / self.travel
        if truth.shows != MOVES:
            return self._jammed + self._state.place
        return (self._state.place + self._found + self._scattered
                + truth.periodic_error * math.sin(2 * math.pi * self._commanded / self._period)
                + truth.bow * 4 * share * (1 - share)
                + truth.warm_growth * self._warmed(truth.warm_time) * share)

    @property
    def lag(self) -> float:
        """By how much it stands away from where its field holds it, its train giving way [travel]."""
        return self._state.place - self._field_at(self._commanded)

    def _warmed(self, otherwise: float, room: float = 1.0) -> float:
        """How far it has warmed, of how far it will. room: what warming leaves of its cooling."""
        slow = (self.real or self.solution).get("thermal_time_constant") or otherwise
        return -math.expm1(-self._warming * room / float(slow))

    def hand(self, what: str, *values: float) -> float:
        """As `Machine.hand` says. Raises DeviceError."""
        try:
            return float(self._hands[what](*values)) * (1 + HAND_SCATTER * self._random.standard_normal())
        except (KeyError, TypeError, ArithmeticError):
            raise DeviceError(f"{what} with {len(values)} numbers is nothing a hand can do here") from None

    @property
    def _hands(self) -> dict[str, Callable[..., float]]:
        return {"push": self._push, "wait": self._wait, "tone": self._tone, "drag": self._drag, "ripple": self._ripple,
                "warmth": self._warmth, "tap": self._tap, "shaper": self._set_shaper, "gains": self.set_gains}

    def second(self, position: float) -> None:
        """It is one axis alone. Raises DeviceError."""
        raise DeviceError(ONE_AXIS)

    def gauge(self, what: str, *values: float) -> float:
        """It is one axis alone. Raises DeviceError."""
        raise DeviceError(ONE_AXIS)

    def pause(self, seconds: float) -> None:
        """Let time pass."""
        self.hand("wait", seconds)

    def _push(self, effort: float, diagonal: float = 0.0) -> float:
        """A hand that pushes slowly, damps what it lies on, and holds; the motor stands at its idle current.

        diagonal: 1 along that of belt A, 2 of belt B, in a pair.
        """
        self._arrive()
        stiffness = self.along[int(diagonal) - 1] if diagonal else self.body.train_stiffness
        held = replace(self._idle, train_stiffness=stiffness, viscous=math.sqrt(stiffness * self.body.moved_inertia))
        count = round(PUSHES_IN / GENTLE_STEP)
        rising = 0.5 - 0.5 * np.cos(np.pi * (np.arange(count) + 0.5) / count)
        pushes = np.append(self._pushed + (effort - self._pushed) * rising, np.full(round(PUSHED_FOR / GENTLE_STEP), effort))
        integrated(held, self._state, np.zeros(pushes.size), pushes / self._count, GENTLE_STEP)
        self._pushed = effort
        return 0.0

    def _let_go(self) -> None:
        if self._pushed:
            self._push(0.0)

    def _wait(self, seconds: float) -> float:
        self._warming += max(seconds, 0.0)
        return 0.0

    def _warmth(self, what: float) -> float:
        """Temperature [°C] of the motor's case moving (0) or holding (1), or of the driver's fin (2), by what really heats it."""
        real = self.real or self.solution
        ambient = float(real.get("ambient_temperature") or 20.0)
        if what == DRIVER_FIN:
            rise = float(real.get("driver_loss") or USUAL_DRIVER_LOSS) * (real.get("cooled_resistance") or USUAL_RESISTANCE)
            return ambient + self.truth.case_share * rise * -math.expm1(-self._warming / (FIN_SHARE * self.truth.warm_time))
        loss = real.get("holding_copper_loss" if what else "copper_loss") or real.get("cycle_copper_loss") or USUAL_LOSS
        resistance = float(real.get("thermal_resistance") or USUAL_RESISTANCE)
        try:
            steady, room = float(steady_rise(float(loss), resistance, ambient)), float(room_to_cool(float(loss), resistance))
        except NotKnown:  # it heats faster than it cools, until it has burnt
            steady, room = BURNT, 1.0
        return ambient + self.truth.case_share * steady * self._warmed(self.truth.warm_time, room)

    def _tap(self) -> float:
        self._tapped = True
        return 0.0

    def _set_shaper(self, *impulses: float) -> float:
        """A person sets the shaper of the controller for the move that is begun next: times [s] and shares in turn."""
        self._shaper = tuple(zip(impulses[::2], impulses[1::2], strict=True))
        return 0.0

    def _tone(self, span: float, linear_mass: float) -> float:
        belts = [link.pretension for link in (self.real or self.solution).get("train", ()) or ()
                 if isinstance(link, Belt) and link.pretension]
        return math.sqrt((belts[-1] if belts else USUAL_PRETENSION) / linear_mass) / (2 * span)

    def _drag(self, radius: float) -> float:
        """What turns the shaft of a motor that is unplugged."""
        real = self.real or self.solution
        creeps = real.get("creep_torque_plus")
        return (USUAL_TURNING if creeps is None else abs(float(creeps)) + self.body.drag_torque) / radius

    def _ripple(self, speed: float, crest: float) -> float:
        """A test piece with a corner into a run at this speed: the spacing of its crests, or the height of one."""
        if speed not in self._pieces:
            self._pieces[speed] = self._crests(speed)
        tops, heights = self._pieces[speed]
        if tops.size < 2:
            return 0.0
        if not crest:
            return float(speed * np.mean(np.diff(tops[:4])) / RATE)
        return float(heights[int(crest) - 1]) if crest <= heights.size else 0.0

    def _crests(self, speed: float) -> tuple[np.ndarray, np.ndarray]:
        """Where the crests behind a corner are, in samples, and their heights [travel]."""
        acceleration = self._top("top_acceleration", USUAL_ACCELERATION)
        ramp = speed / acceleration
        places = ramps(10 * speed * (ramp + RINGS_ON), speed, acceleration, STEP, 0.0)[:round((ramp + RINGS_ON) / STEP)]
        swing = integrated(self.body, at_rest(self.body), places)
        along = swing.position[swing.time > ramp]
        each = np.arange(along.size)
        left = along - straight_line(each, along).at(each)
        tops = np.flatnonzero((left[1:-1] > left[:-2]) & (left[1:-1] >= left[2:]) & (left[1:-1] > 0)) + 1
        return tops, left[tops]

    def read(self) -> float:
        self._arrive()
        seen = self._stands() - self._commanded + self.truth.indicator_noise * self._random.standard_normal()
        if abs(seen) <= INDICATOR_RANGE:
            seen *= self.truth.indicator_sign
        return float(np.round(seen / self.truth.indicator_resolution) * self.truth.indicator_resolution)

    def shake(self, low: float, high: float, duration: float) -> None:
        """Sweep the motor over frequencies [Hz] in the next record of so long a duration [s]. Raises DeviceError."""
        if not self._enabled:
            raise DeviceError("the axis is not enabled; enable it with a hand on the stop")
        if not 0 < low < high < SAMPLE_RATE / 2:
            raise DeviceError(f"a sweep from {low:g} to {high:g} Hz cannot be made; at most {SAMPLE_RATE / 2:g} Hz")
        self._shake = (low, high, duration)

    def record(self, duration: float) -> tuple[np.ndarray, np.ndarray]:
        """Times [s] and accelerations [m/s² or rad/s²] of so long a duration [s]. Raises DeviceError."""
        count = int(min(duration, 2 * LONGEST_RECORD) * SAMPLE_RATE)
        if count < 2 or duration > LONGEST_RECORD:
            raise DeviceError(f"{duration:g} s cannot be recorded; at most {LONGEST_RECORD:g} s, and two samples at least")
        times = np.arange(count) / SAMPLE_RATE
        values = self._heard(count)
        values += self.truth.sensor_noise * self._random.standard_normal(values.shape)
        self._shake, self._tapped, self._begun, self._shaper = None, False, None, ()
        if self.truth.lost_samples:
            kept = np.delete(np.arange(count), self._random.integers(1, count - 1, self.truth.lost_samples))
            return times[kept], values[kept]
        return times, values

    def trace(self, duration: float, of: str) -> tuple[np.ndarray, np.ndarray]:
        """Times [s], and what was commanded and what the encoder says, of the move that was begun: positions [travel], or speeds
        [travel/s]; of the torque the speed of the shaft and the torque [rad/s, N·m]. Raises DeviceError.
        """
        if self._begun is None:
            raise DeviceError("no move was begun: a trace is that of a move")
        if not 0 < duration <= LONGEST_TRACE:
            raise DeviceError(f"{duration:g} s cannot be traced; at most {LONGEST_TRACE:g} s")
        self._let_go()
        position, speed, acceleration = self._begun
        far = self._field_at(position) - self._state.commanded
        before, begun = self._state.commanded, float(self._state.parts[ANGLE]) * self.body.travel_per_radian
        places = ramps(far, speed, acceleration, STEP, 0.0)
        every = round(1 / RATE / STEP)
        resting, steps = round(TRACED_BEFORE / STEP), round(duration / STEP)
        whole = np.concatenate([np.zeros(resting), places, np.full(max(steps - places.size, 0), far)])[:resting + steps]
        swing = integrated(self.body, self._state, whole)
        self._commanded, self._begun = position, None
        self._state.parts[MOVING] = self._state.parts[TURNING] = 0.0
        commanded = whole[every - 1::every][:swing.time.size]
        count = float((self.real or self.solution).get("counts_per_turn") or 0.0)
        grain = self._period / count if count else 0.0
        if of == "torque":
            turning = swing.motor_speed / self.body.travel_per_radian
            return swing.time - TRACED_BEFORE, np.stack([turning, swing.torque], axis=1)
        if of == "speed":
            commanded, actual = np.diff(commanded, prepend=0.0) * RATE, swing.motor_speed
            grain *= RATE
        else:
            commanded, actual = commanded + before, swing.motor - begun + before
        seen = np.round(actual / grain) * grain if grain else actual
        return swing.time - TRACED_BEFORE, np.stack([commanded, seen], axis=1)

    def set_gains(self, velocity_gain: float, velocity_integral: float, position_gain: float) -> float:
        """A person sets the gains of the drive [N·m·s/rad, s, 1/s]; nothing for the first leaves them."""
        if velocity_gain > 0:
            self.body = replace(self.body, velocity_gain=velocity_gain, velocity_integral=velocity_integral or math.inf,
                                position_gain=position_gain)
        return 0.0

    def _heard(self, count: int) -> np.ndarray:
        """What carriage and frame do meanwhile: shaken, tapped, or on a move; a row a sample, a column a direction."""
        if (self._shake is None and not self._tapped and self._begun is None) or self.truth.shows != MOVES:
            return np.zeros((count, len(self.truth.frame.weights)))
        self._let_go()
        before = self._state.copy()
        for strength in WEAKER:
            values, lost = self._swung(count, strength)
            if self._shake is None or not lost:
                break
            self._state = before.copy()  # shaken more weakly from the same place
        if self._begun is not None:
            self._commanded = self._begun[0]
        self._state.parts[MOVING] = self._state.parts[TURNING] = 0.0
        return values

    def _swung(self, count: int, strength: float) -> tuple[np.ndarray, bool]:
        """The rows of a record, and whether steps were lost meanwhile; strength: of a shake, as a share of the usual one."""
        weights = np.array(self.truth.frame.weights)
        values, lost = np.zeros((count, weights.size)), False
        body = self._idle if self._tapped and self._begun is None and self._shake is None else self.body
        speeds = np.zeros(2)
        from_here, leaks = self._state.commanded, np.array(LEAKS)[:weights.size]
        for first in range(0, count, int(AT_ONCE * RATE)):
            many = min(int(AT_ONCE * RATE), count - first)
            times = (np.arange(many * round(1 / RATE / STEP)) + 0.5) * STEP + first / RATE
            places, pushes = self._driven(times, from_here, strength)
            swing = integrated(body, self._state, from_here + places - self._state.commanded, pushes / self._count)
            carriage = np.diff(swing.speed, prepend=speeds[0]) * RATE
            frame = np.diff(swing.frame_speed, prepend=speeds[1]) * RATE
            values[first:first + many] = carriage[:, None] * leaks + frame[:, None] * weights
            speeds = np.array([swing.speed[-1], swing.frame_speed[-1]])
            lost = lost or bool(swing.lost_steps)
        return values, lost

    def _driven(self, times: np.ndarray, from_here: float, strength: float) -> tuple[np.ndarray, np.ndarray]:
        """How far the field is commanded from where the record began, and what strikes the carriage, at these times of it."""
        nothing = np.zeros_like(times)
        body, running = self.body, times - RESTING
        if self._shake is not None:
            low, high, duration = self._shake
            phase = 2 * np.pi * (low * running + (high - low) / (2 * duration) * running**2)
            pitch = 2 * np.pi * (low + (high - low) * np.clip(running / duration, 0.0, 1.0))
            fade = np.clip(np.minimum(running, duration - running) / (0.05 * duration), 0.0, 1.0)
            return -fade * strength * SHAKES * self._hardest() / pitch**2 * np.sin(phase), nothing
        if self._begun is not None:
            position, speed, acceleration = self._begun
            places = ramps(self._field_at(position) - from_here, speed, acceleration, STEP, 0.0)
            places = through_shaper(places, self._shaper, STEP) if self._shaper else places
            at = np.minimum((times / STEP).astype(int), places.size - 1)
            return places[at], nothing
        lasts = (running >= 0) & (running < TAP_LASTS)
        hardest = TAP * self._hardest() * body.moved_inertia * self._count
        return nothing, np.where(lasts, hardest * np.sin(np.pi * running / TAP_LASTS), 0.0)

    def _hardest(self) -> float:
        """The acceleration that the motor should be able to give at low speed [travel/s²]: who shakes it knows only the project."""
        body = practised(self.solution)
        most = body.torque_limit if body.loop_stiffness else body.torque_constant * body.current_peak
        if not math.isfinite(most):
            return USUAL_ACCELERATION * self.travel
        r = body.travel_per_radian
        return most * r / (body.turning_inertia + body.moved_inertia * r**2)

