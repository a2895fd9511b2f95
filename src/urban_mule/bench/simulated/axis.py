"""One simulated axis that stands in for mover, indicator and accelerometer.

What it should do comes from the solved project; what it really does comes from a hidden truth with a seed.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

from urban_mule.bench.devices import RESTING, DeviceError
from urban_mule.core.moves.ladder import A_CYCLE, as_computed
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.train.links import Belt

SAMPLE_RATE = 1600.0  # Hz
LONGEST_RECORD = 600.0  # s
DRIVER_FIN = 2.0  # what `warmth` touches then
FIN_SHARE = 0.25  # of the time constant of a motor: a fin has less to warm
USUAL_DRIVER_LOSS = 6.0  # W
USUAL_LOSS, USUAL_RESISTANCE = 10.0, 2.0  # W, K/W of a motor whose own the project does not say
USUAL_PRETENSION = 100.0  # N, of a belt whose own the project does not say
HAND_SCATTER = 2e-3  # share of what a hand and its tool read
RIPPLE_AT = 30e-6  # m: height of the first crest of the ripple on a test piece


INDICATOR_RANGE = 1e-3  # m (or rad): what lies farther off is read by a scale, which has no sign to be wrong
TAP, TAP_LASTS = 60.0, 4e-3  # m/s² and s of a tap with a soft hammer
JAMS_AFTER = 3e-3  # m (or rad) that a beam goes before its two motors have racked it
MOVES, BUZZES, RACKS = "moves", "buzzes", "racks"


@dataclass(frozen=True)
class HiddenMode:
    """A resonance of the simulated machine; weight: its share in each direction of the sensor."""

    frequency: float
    damping_ratio: float
    weight: tuple[float, ...] = (1.0, 0.25, 0.1)


@dataclass(frozen=True)
class Truth:
    """What the machine is like and the project does not say. Lengths in m (or rad)."""

    seed: int = 1
    clearance: float = 20e-6
    clearance_wear: float = 0.0  # growth of the clearance from one end of the travel to the other
    scale_error: float = 0.0  # share of the travel
    periodic_error: float = 2e-6  # amplitude, one period a motor turn
    bow: float = 0.0  # greatest departure from a straight line, mid-travel
    drift: float = 0.0  # growth of the length with each move, as heat builds up
    scatter: float = 1e-6  # of the place where it comes to rest
    indicator_noise: float = 0.4e-6
    indicator_resolution: float = 1e-6
    modes: tuple[HiddenMode, ...] = (HiddenMode(34.0, 0.045),)
    sensor_noise: float = 0.03  # m/s²
    lost_samples: int = 0
    compliance: float = 1.2e-7  # travel per effort
    pretension: float | None = None  # N, of the belt; None: as the project has it
    preload_torque: float = 0.03  # N·m that turn the preloaded shaft
    torque_factor: float = 1.0  # share of the computed torque that the motor really gives
    homing_scatter: float = 1.5e-6
    warm_growth: float = 0.0  # of the whole travel, when warm
    warm_time: float = 1500.0  # s, time constant of warming
    case_share: float = 0.85  # of the thermal resistance, up to the case; the winding is warmer
    cable_lag: float = 0.0  # how far a dragging cable holds it back at the plus end; nothing up to mid-travel
    indicator_sign: float = 1.0  # -1: the indicator counts the other way
    shows: str = MOVES  # what is seen and heard on a short move


def invented_truth(machine_seed: int, session: int) -> Truth:
    """A made-up machine: the same for the same machine_seed, with noise of its own for each session."""
    random = np.random.default_rng(machine_seed)
    first = float(random.uniform(24, 48))
    return Truth(
        seed=machine_seed % 2**32 + session, clearance=float(random.uniform(8e-6, 45e-6)),
        clearance_wear=float(random.uniform(0, 12e-6)), scale_error=float(random.uniform(-6e-5, 6e-5)),
        periodic_error=float(random.uniform(1e-6, 6e-6)), bow=float(random.uniform(-12e-6, 12e-6)),
        scatter=float(random.uniform(0.8e-6, 2.5e-6)), compliance=float(random.uniform(0.5e-7, 3e-7)),
        preload_torque=float(random.uniform(0.015, 0.06)), warm_growth=float(random.uniform(5e-6, 40e-6)),
        torque_factor=float(random.uniform(0.6, 1.05)),
        warm_time=float(random.uniform(900, 2400)),
        modes=(HiddenMode(first, float(random.uniform(0.025, 0.06))),
               HiddenMode(first * float(random.uniform(1.7, 2.4)), 0.05, (0.15, 0.2, 0.05))),
    )


def goes(solution: Solution, real: Solution) -> float:
    """How far an axis goes for what it is commanded, its settings and parts being really others."""
    meant, really = solution.get("step_length"), real.get("step_length")
    return float(really / meant) if meant and really else 1.0


def loses_steps(real: Solution, torque_factor: float, speed: float, acceleration: float, way: float) -> bool:
    """Whether a motor loses steps on a move of this speed and acceleration, at both its ends, one way; False for a servo.

    speed: [travel]/s; acceleration: [travel]/s²; torque_factor: what the motor gives of what was computed; way: 1 or -1.
    """
    asked, curve = real.get("asked_torque"), real.get("torque_curve")
    if asked is None or curve is None or "step_angle" not in real.sheet.inputs:
        return False
    there = float(as_computed(curve)(np.asarray([speed / float(real["travel_per_radian"])]))[0])
    return float(np.asarray(asked(acceleration, (way,)))) > torque_factor * there


@dataclass
class SimulatedAxis:
    """A whole machine of one axis: mover, indicator, accelerometer, and the hand of a person beside it.

    solution: the axis as the project has it, by which it is commanded; real: as its parts and settings really are.
    """

    solution: Solution
    truth: Truth = field(default_factory=Truth)
    real: Solution | None = None
    practice = True

    def __post_init__(self) -> None:
        self._random = np.random.default_rng(self.truth.seed)
        self.travel = float(self.solution.get("travel", 0.5) or 0.5)
        self._period = float(self.solution.get("travel_per_turn", 0.01))
        self._step = float(self.solution.get("step_length", 0.0))
        self._goes = goes(self.solution, self.real or self.solution)
        self._enabled, self._commanded, self._real, self._moves = False, 0.0, 0.0, 0
        self._sweep: tuple[float, float, float] | None = None
        self._tapped = False
        self._begun: tuple[float, float, float] | None = None
        self._warming = self._pushed = self._lost = 0.0
        belts = [link.pretension for link in self.solution.get("train", ()) or () if isinstance(link, Belt) and link.pretension]
        self._pretension = self.truth.pretension or (belts[-1] if belts else USUAL_PRETENSION)

    @property
    def directions(self) -> str:
        """A letter for each direction that is recorded."""
        return "xyz"[:max((len(mode.weight) for mode in self.truth.modes), default=1)]

    def enable(self) -> None:
        self._enabled = True

    def disable(self) -> None:
        self._enabled = False

    def stop(self) -> None:
        self._sweep = None

    def position(self) -> float:
        return self._commanded

    def move(self, position: float) -> None:
        """Go to a position and settle there [travel]. Raises DeviceError when it is not enabled, or outside the travel."""
        if not self._enabled:
            raise DeviceError("the axis is not enabled; enable it with a hand on the stop")
        if not -0.02 * self.travel <= position <= 1.02 * self.travel:
            raise DeviceError(f"{position:.6g} lies outside the travel of 0 to {self.travel:.6g}")
        self._moves += 1
        self._commanded, self._pushed = position, 0.0
        self._real = self._rest(position)

    def run(self, position: float, speed: float, acceleration: float) -> None:
        """Move at a speed and an acceleration; asked for more torque than it gives the motor loses steps, in fours.

        Raises DeviceError. position, speed, acceleration: [travel], [travel]/s, [travel]/s².
        """
        if speed <= 0 or acceleration <= 0:
            raise DeviceError(f"a run at {speed:g} with {acceleration:g} goes nowhere; both are above 0")
        way = math.copysign(1.0, position - self._commanded)
        real = self.real or self.solution
        if loses_steps(real, self.truth.torque_factor, speed * self._goes, acceleration * self._goes, way):
            uneven = way < 0  # the two ways never lose alike, so that out and back do not hide it from each other
            lost = A_CYCLE * (2 * int(self._random.integers(1, 12)) + uneven)
            self._lost -= way * lost * float(real["step_angle"]) * float(real["travel_per_radian"])
        self.move(position)

    def begin(self, position: float, speed: float, acceleration: float) -> None:
        """Begin to move; the next record hears it. Raises DeviceError.

        position, speed, acceleration: [travel], [travel]/s, [travel]/s².
        """
        if speed <= 0 or acceleration <= 0:
            raise DeviceError(f"a move at {speed:g} with {acceleration:g} goes nowhere; both are above 0")
        far = position - self._commanded
        self.move(position)
        self._begun = (far, speed, acceleration)

    def home(self) -> None:
        """The switch answers at the beginning of the travel, with a scatter of its own; lost steps are found again."""
        self._lost = float(self.truth.homing_scatter * self._random.standard_normal())
        self.move(0.0)

    def _rest(self, commanded: float) -> float:
        """Where the load comes to rest: the drive drags it through the clearance, the guides hold it there."""
        truth, share = self.truth, commanded / self.travel
        if truth.shows == BUZZES:
            return self._real
        if truth.shows == RACKS and abs(commanded - self._real) > JAMS_AFTER:
            return self._real + math.copysign(JAMS_AFTER, commanded - self._real) * float(self._random.uniform(0.0, 0.2))
        whole = round(commanded / self._step) * self._step if self._step else commanded
        driven = (
            self._lost
            + whole * self._goes * (1 + truth.scale_error)
            + truth.periodic_error * np.sin(2 * np.pi * commanded / self._period)
            + truth.bow * 4 * share * (1 - share)
            + truth.drift * self._moves * share
            + truth.warm_growth * (1 - math.exp(-self._warming / truth.warm_time)) * share
        )
        play = self._play(share)
        return float(np.clip(self._real, driven - play, driven + play) + truth.scatter * self._random.standard_normal())

    def _play(self, share: float) -> float:
        """Half of the clearance at a share of the travel."""
        dragged = self.truth.cable_lag * max(0.0, 2 * share - 1)
        return (self.truth.clearance + self.truth.clearance_wear * share + dragged) / 2

    def hand(self, what: str, *values: float) -> float:
        """As `Machine.hand` says. Raises DeviceError."""
        try:
            return float(self._hands[what](*values)) * (1 + HAND_SCATTER * self._random.standard_normal())
        except (KeyError, TypeError, ArithmeticError):
            raise DeviceError(f"{what} with {len(values)} numbers is nothing a hand can do here") from None

    @property
    def _hands(self) -> dict[str, Callable[..., float]]:
        return {"push": self._push, "wait": self._wait, "tone": self._tone, "drag": self._drag, "ripple": self._ripple,
                "warmth": self._warmth, "tap": self._tap}

    def pause(self, seconds: float) -> None:
        """Let time pass."""
        self.hand("wait", seconds)

    def _push(self, effort: float) -> float:
        self._pushed = effort
        return 0.0

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
        resistance = self.truth.case_share * (real.get("thermal_resistance") or USUAL_RESISTANCE)
        slow = real.get("thermal_time_constant") or self.truth.warm_time
        return float(ambient + loss * resistance * -math.expm1(-self._warming / slow))

    def _tap(self) -> float:
        self._tapped = True
        return 0.0

    def _tone(self, span: float, linear_mass: float) -> float:
        return math.sqrt(self._pretension / linear_mass) / (2 * span)

    def _drag(self, radius: float) -> float:
        real = self.real or self.solution  # a guide that binds is felt at the shaft too
        binding = (real.get("friction_load") or 0.0) - (self.solution.get("friction_load") or 0.0)
        return (self.truth.preload_torque + binding * float(self.solution.get("travel_per_radian") or 0.0)) / radius

    def _ripple(self, speed: float, crest: float) -> float:
        mode = self.truth.modes[0]
        if not crest:
            return speed / (mode.frequency * math.sqrt(1 - mode.damping_ratio**2))
        return RIPPLE_AT * math.exp(-2 * math.pi * mode.damping_ratio / math.sqrt(1 - mode.damping_ratio**2) * (crest - 1))

    def read(self) -> float:
        shoved = 0.0
        if self._pushed:  # it lies at one side of its play, and gives way
            middle = self._commanded - self._real
            free = (self.truth.clearance + self.truth.clearance_wear * self._commanded / self.travel) / 2
            shoved = middle + math.copysign(free, self._pushed)
            overcome = max(abs(self._pushed) - float(self.solution.get("friction_load") or 0.0), 0.0)
            shoved = (shoved + math.copysign(self.truth.compliance * overcome, self._pushed)) * bool(overcome)
        seen = self._real - self._commanded + shoved + self.truth.indicator_noise * self._random.standard_normal()
        if abs(seen) <= INDICATOR_RANGE:
            seen *= self.truth.indicator_sign
        return float(np.round(seen / self.truth.indicator_resolution) * self.truth.indicator_resolution)

    def shake(self, low: float, high: float, duration: float) -> None:
        """Sweep the motor over frequencies [Hz] in the next record of so long a duration [s]. Raises DeviceError."""
        if not self._enabled:
            raise DeviceError("the axis is not enabled; enable it with a hand on the stop")
        if not 0 < low < high < SAMPLE_RATE / 2:
            raise DeviceError(f"a sweep from {low:g} to {high:g} Hz cannot be made; at most {SAMPLE_RATE / 2:g} Hz")
        self._sweep = (low, high, duration)

    def record(self, duration: float) -> tuple[np.ndarray, np.ndarray]:
        """Times [s] and accelerations [m/s² or rad/s²] of so long a duration [s]. Raises DeviceError."""
        count = int(min(duration, 2 * LONGEST_RECORD) * SAMPLE_RATE)
        if count < 2 or duration > LONGEST_RECORD:
            raise DeviceError(f"{duration:g} s cannot be recorded; at most {LONGEST_RECORD:g} s, and two samples at least")
        times = np.arange(count) / SAMPLE_RATE
        values = self._response(times)
        values += self.truth.sensor_noise * self._random.standard_normal(values.shape)
        self._sweep, self._tapped, self._begun = None, False, None
        if self.truth.lost_samples:
            kept = np.delete(np.arange(count), self._random.integers(1, count - 1, self.truth.lost_samples))
            return times[kept], values[kept]
        return times, values

    def _response(self, times: np.ndarray) -> np.ndarray:
        """Acceleration of the modes under the sweep, by their transfer functions on a record padded to come to rest."""
        directions = len(self.directions)
        if (self._sweep is None and not self._tapped and self._begun is None) or self.truth.shows != MOVES:
            return np.zeros((times.size, directions))
        running = times - RESTING
        if self._sweep is not None:
            low, high, duration = self._sweep
            phase = 2 * np.pi * (low * running + (high - low) / (2 * duration) * running**2)
            fade = np.clip(np.minimum(running, duration - running) / (0.05 * duration), 0.0, 1.0)
            drive = 3.0 * np.sin(phase) * fade
        elif self._begun is not None:
            far, speed, acceleration = self._begun
            ramp = min(speed / acceleration, math.sqrt(abs(far) / acceleration))
            brakes = abs(far) / (acceleration * ramp) if ramp else 0.0  # when the slowing down begins
            up, down = (((times >= at) & (times < at + ramp)).astype(float) for at in (0.0, brakes))
            drive = math.copysign(acceleration, far) * (up - down)
        else:
            drive = TAP * np.where((running >= 0) & (running < TAP_LASTS), np.sin(np.pi * running / TAP_LASTS), 0.0)
        size = 2 * times.size
        transform = np.fft.rfft(drive, size)
        frequency = np.fft.rfftfreq(size, 1 / SAMPLE_RATE)
        values = np.zeros((times.size, directions))
        for mode in self.truth.modes:
            r = frequency / mode.frequency
            answer = np.fft.irfft(transform * r**2 / (1 - r**2 + 2j * mode.damping_ratio * r), size)[:times.size]
            values[:, :len(mode.weight)] += answer[:, None] * np.array(mode.weight)
        return values
