"""Where speed and acceleration of an axis may lie, whatever the shaper: each limit by itself."""

from __future__ import annotations

import math

import numpy as np

from urban_mule.core.load.capped import CappedTorque
from urban_mule.core.load.cycle import Move
from urban_mule.core.load.pair import OthersPart
from urban_mule.core.motor.margin import TorqueCurve, working_margin
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import quantity
from urban_mule.core.sheet.record import record
from urban_mule.core.train.fold import gains_in_front
from urban_mule.core.train.link import Link
from urban_mule.core.train.links import Screw
from urban_mule.core.train.screw import WHIRLING_SHARE, whirling_speed

STEP, STEPS = 0.02, 46  # of the greatest: how finely speeds and accelerations are tried, down to a tenth
SHARES = 1 - STEP * np.arange(STEPS)
PARTS, ROUNDS = 25, 3  # into which what is left of the acceleration is cut, and how often: within 0.01 %
# what it is like beyond each limit, in words
BREAKS = {"pulses": "more step pulses than are accepted", "whirling": "the screw whirls", "torque": "too little torque margin",
          "ladder": "near where the ladder lost steps", "heat": "the motor gets too hot",
          "path": "the shaper rounds the path too much"}
SAME = 1e-9  # share, and seconds, that count as equal


@record(frozen=True, eq=False, repr=False)
class TorqueLimits:
    """What the torque of a cycle is held against: curves over the shaft speed, each with how many times the torque it must give;
    and what a motor bears all the time [N·m], None where that is no limit.
    """

    curves: tuple[tuple[str, TorqueCurve, float], ...]
    all_the_time: float | None = None

    @property
    def names(self) -> tuple[str, ...]:
        """What each is called."""
        return (*(name for name, _, _ in self.curves), *(("heat",) if self.all_the_time is not None else ()))


@record(frozen=True, eq=False, repr=False)
class SettingsRoom:
    """Where speed and acceleration may lie, whatever the shaper.

    top_acceleration [travel/s²]: of the cycle; fastest: by its name each limit of the speed [travel/s]; steepest: by its name each
    limit of the acceleration over `speeds`, infinite where the cycle asks for less.
    """

    top_acceleration: float
    speeds: np.ndarray
    fastest: dict[str, float]
    steepest: dict[str, np.ndarray]


def _holds(torque: CappedTorque, name: str, limits: TorqueLimits, speed: Reals, acceleration: Reals) -> Reals:
    """Whether a limit is kept at caps of speed and acceleration."""
    with np.errstate(divide="ignore", invalid="ignore"):  # where no torque is asked for
        if name == "heat":
            assert limits.all_the_time is not None
            return torque.rms(speed, acceleration) <= limits.all_the_time
        curve, factor = next((curve, factor) for one, curve, factor in limits.curves if one == name)
        return _margin(torque, curve, speed, acceleration) >= factor


def _margin(torque: CappedTorque, curve: TorqueCurve, speed: Reals, acceleration: Reals) -> Reals:
    return working_margin(curve, torque(speed, acceleration), *torque.of_pair(speed, acceleration), torque.fellow)


def _steepest(torque: CappedTorque, name: str, limits: TorqueLimits, speeds: np.ndarray, top: float) -> np.ndarray:
    """The greatest acceleration that keeps a limit at each speed, at most that of the cycle; 0 where none does."""
    whole = np.asarray(_holds(torque, name, limits, speeds, np.full(speeds.size, top)))
    low, part = np.zeros(speeds.size), top / PARTS
    for _ in range(0 if whole.all() else ROUNDS):
        tried = low + part * np.arange(1, PARTS)[:, None]
        kept = np.asarray(_holds(torque, name, limits, np.broadcast_to(speeds, tried.shape), tried))
        low, part = low + part * (kept * np.arange(1, PARTS)[:, None]).max(axis=0), part / PARTS
    return np.where(whole, np.inf, low)


@quantity("", symbol="", source="pulses that can be made, and 80 % of where a screw whirls", structure=True,
          formula="v of the greatest pulse rate; 0.8·ω_whirl·r", label="Limits of the speed")
def fastest_settings(
    travel_per_radian: Reals, train: tuple[Link, ...], top_speed: Reals, pulse_rate: Reals = None, pulse_rate_limit: Reals = None,
    others_part: OthersPart | None = None,
) -> dict[str, float]:
    """By its name each limit of the speed that the motor does not make [travel/s]; travel_per_radian [travel/rad]."""
    others = 0.0 if others_part is None else float(others_part.speed)
    fastest: dict[str, float] = {}
    if pulse_rate and pulse_rate_limit is not None:
        fastest["pulses"] = float(pulse_rate_limit * (top_speed + others) / pulse_rate) - others
    for link, turns in zip(train, gains_in_front(train), strict=True):
        if isinstance(link, Screw) and link.end_support is not None:
            limit = float(WHIRLING_SHARE * whirling_speed(link) / turns * travel_per_radian)
            fastest["whirling"] = min(limit, fastest.get("whirling", math.inf))
    return fastest


@quantity("", symbol="", source="each limit by itself: pulses and whirling of the speed; torque, ladder, heat of the acceleration",
          structure=True, sought=True,
          formula="greatest v; greatest a at each v, of v from the speed wanted down to a tenth of it")
def settings_room(
    cycle: tuple[Move, ...], capped_torque: CappedTorque, torque_limits: TorqueLimits, fastest_settings: dict[str, float],
    speed_wanted: Reals = None,
) -> SettingsRoom:
    """What of speed and acceleration the axis can keep."""
    speeds = float(speed_wanted or max(move.speed for move in cycle)) * SHARES
    steep = float(max(move.acceleration for move in cycle))
    return SettingsRoom(steep, speeds, fastest_settings, {
        name: _steepest(capped_torque, name, torque_limits, speeds, steep) for name in torque_limits.names})


def breaks_of(
    fastest: dict[str, float], torque: CappedTorque, limits: TorqueLimits, allowed: float, speed: float, acceleration: float
) -> list[str]:
    """The limits that a speed [travel/s] and an acceleration [travel/s²] break; allowed: by the shaper's path [travel/s²]."""
    found = [name for name, limit in fastest.items() if speed > limit * (1 + SAME)]
    found += [name for name in limits.names if not bool(np.all(_holds(torque, name, limits, speed, acceleration)))]
    return [*found, *(["path"] if acceleration > allowed * (1 + SAME) else [])]


def margin_at(torque: CappedTorque, limits: TorqueLimits, speed: float, acceleration: float) -> float:
    """How many times the torque needed the motor gives at caps of speed [travel/s] and acceleration [travel/s²]."""
    with np.errstate(divide="ignore", invalid="ignore"):
        return float(_margin(torque, limits.curves[0][1], speed, acceleration))
