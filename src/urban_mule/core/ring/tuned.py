"""Shapers tuned to the whole record: each kind at the frequency at which it leaves least of all modes, a shaper for two modes,
the one to set.
"""

from __future__ import annotations

import math
from functools import lru_cache
from typing import Any

import numpy as np

from urban_mule.core.readings.shapers import KINDS, NAMED, NONE, TWO_MODES
from urban_mule.core.ring.modes import Mode
from urban_mule.core.ring.shaper import SINGER, WANDER, Shaper, residual_vibration, shaper_sequences
from urban_mule.core.sheet.given import Reals, given
from urban_mule.core.sheet.quantity import NotKnown, quantity

STEP = 0.1  # Hz: tenths, as controllers take them
FROM, UP_TO = 0.5, 2.0  # of the lowest and of the strongest mode: where a shaper is tried
MOST_LEFT = 0.1  # surviving share of one that is quiet enough
A_LITTLE_BELOW = 0.9  # of what a shaper allows: what is set
OFF = np.array([1 - WANDER, 1.0, 1 + WANDER])


class ShaperChoice:
    """The shaper as somebody chose it by hand."""

    shaper_kind: str | None = given("", "", "kind of shaper that is set; empty takes the recommended one",
        choices=(*KINDS, TWO_MODES, NONE),
        written_out=(*NAMED.values(), "zero vibration of both of the strongest modes", "the command as it is"), label="Shaper")
    shaper_frequency: Reals = given("Hz", "f_s", "frequency that it is set to; empty takes the one it is tuned to", above=0,
        most=1000, label="Shaper frequency")


def wandering(shaper: Shaper, modes: tuple[Mode, ...]) -> float:
    """Surviving share of the modes by their heights, each up to 7 % off, as a mode wanders."""
    return float(surviving(shaper.times[None, :], shaper.amplitudes, modes)[0])


def surviving(times: np.ndarray, amplitudes: np.ndarray, modes: tuple[Mode, ...]) -> np.ndarray:
    """Surviving share of the modes for each row of impulse times [s] of one set of amplitudes."""
    heights = np.array([mode.height for mode in modes])
    total = np.zeros(len(times))
    for mode, height in zip(modes, heights, strict=True):
        omega = 2 * math.pi * mode.frequency * OFF[:, None, None]
        damped = omega * math.sqrt(1 - mode.damping_ratio**2)
        grown = amplitudes * np.exp(mode.damping_ratio * omega * (times - times[:, -1:]))
        left = np.hypot((grown * np.cos(damped * times)).sum(-1), (grown * np.sin(damped * times)).sum(-1))
        total += height * left.max(axis=0)
    return np.asarray(total / heights.sum())


def tuning_frequencies(modes: tuple[Mode, ...]) -> np.ndarray:
    """Whole tenths of a hertz from half the lowest to twice the strongest mode [Hz]."""
    low, high = FROM * min(mode.frequency for mode in modes), UP_TO * modes[0].frequency
    return np.asarray(np.arange(math.ceil(low / STEP - 1e-9), math.floor(high / STEP + 1e-9) + 1) * STEP)


def trade(modes: tuple[Mode, ...], path_tolerance: float) -> dict[str, tuple[np.ndarray, np.ndarray, np.ndarray]]:
    """For each kind over every frequency: frequencies [Hz], surviving share, allowed acceleration [travel/s²].

    path_tolerance [travel].
    """
    return {one.name: (frequencies, share, 2 * path_tolerance / (one.variance / frequencies**2))
            for one, frequencies, share in _tuned(modes)}


@lru_cache(maxsize=16)  # the same record is looked at with every edit of anything else
def _tuned(modes: tuple[Mode, ...]) -> tuple[tuple[Shaper, np.ndarray, np.ndarray], ...]:
    """Each kind of shaper, over every frequency [Hz] the share that survives."""
    frequencies = tuning_frequencies(modes)
    return tuple((one, frequencies, surviving(one.times / frequencies[:, None], one.amplitudes, modes))
                 for one in shaper_sequences(1.0, modes[0].damping_ratio))


def as_listed(shaper: Shaper, frequency: float, share: float, modes: tuple[Mode, ...], path_tolerance: float) -> dict[str, Any]:
    """A shaper as an open list holds it. frequency: [Hz]; share: [1]; path_tolerance: [travel]."""
    return {"name": shaper.name, "frequency": frequency, "surviving_share": share, **_plain(shaper, modes, path_tolerance)}


def _plain(shaper: Shaper, modes: tuple[Mode, ...], path_tolerance: float) -> dict[str, Any]:
    left = residual_vibration(shaper, np.array([m.frequency for m in modes]), np.array([m.damping_ratio for m in modes]))
    return {"times": shaper.times.tolist(), "amplitudes": shaper.amplitudes.tolist(), "residual": float(np.max(left)),
            "allowed_acceleration": float(2 * path_tolerance / shaper.variance)}


def at_frequency(kind: str, frequency: float, modes: tuple[Mode, ...], path_tolerance: float) -> dict[str, Any]:
    """A shaper of a kind at a frequency [Hz], with what it leaves and allows."""
    shaper = next(one for one in shaper_sequences(frequency, modes[0].damping_ratio) if one.name == kind)
    return as_listed(shaper, frequency, wandering(shaper, modes), modes, path_tolerance)


@quantity("", symbol="A_k, t_k", source=SINGER,
          formula="each kind at the tenth of a hertz with the least ∑ h_m·v_m ÷ ∑ h_m, v_m the greatest V at 0.93, 1 and 1.07 f_m")
def tuned_shapers(modes: tuple[Mode, ...], path_tolerance: float) -> list[dict[str, Any]]:
    """Each kind at its own best frequency: name, frequency [Hz], surviving_share, times [s], amplitudes, residual,
    allowed_acceleration [travel/s²]. path_tolerance [travel].
    """
    return [at_frequency(kind, float(frequencies[int(np.argmin(share))]), modes, path_tolerance)
            for kind, (frequencies, share, _) in trade(modes, path_tolerance).items()]


@quantity("", symbol="A_k, t_k", source=SINGER, formula="convolution of the ZVs of the two strongest modes", label="Shaper for"
                                                                                                                   " two modes")
def two_mode_shaper(modes: tuple[Mode, ...], path_tolerance: float) -> dict[str, Any]:
    """ZV for both of the two strongest modes at once: times add, amplitudes multiply. Raises NotKnown with one mode."""
    if len(modes) < 2:
        raise NotKnown("there is one mode only; a shaper for one mode serves it")
    one, other = (shaper_sequences(mode.frequency, mode.damping_ratio)[0] for mode in modes[:2])
    times = np.add.outer(one.times, other.times).ravel()
    order = np.argsort(times, kind="stable")
    made = Shaper(TWO_MODES, times[order], np.multiply.outer(one.amplitudes, other.amplitudes).ravel()[order])
    return _plain(made, modes, path_tolerance)


@quantity("", symbol="", source="as fast as the cycle and then as quiet as can be; else quiet enough and then as fast as can be",
          structure=True, formula="least share of those that allow the cycle's acceleration; else the fastest of those that"
          " leave at most 10 %; else the least share")
def recommended_shaper(tuned_shapers: list[dict[str, Any]], top_acceleration: float | None = None) -> dict[str, Any]:
    """Of the tuned ones the one to set."""
    def share(one: dict[str, Any]) -> float:
        return float(one["surviving_share"])

    fast = [one for one in tuned_shapers if top_acceleration is not None and one["allowed_acceleration"] >= top_acceleration]
    quiet = [one for one in tuned_shapers if share(one) <= MOST_LEFT]
    if fast:
        return min(fast, key=share)
    if quiet:
        return max(quiet, key=lambda one: float(one["allowed_acceleration"]))
    return min(tuned_shapers, key=share)


@quantity("", symbol="", source="what somebody chose by hand, else the recommended one", structure=True,
          formula="kind and frequency as given; a kind alone at the frequency it is tuned to")
def chosen_shaper(
    recommended_shaper: dict[str, Any], tuned_shapers: list[dict[str, Any]], modes: tuple[Mode, ...], path_tolerance: float,
    shaper_kind: str | None = None, shaper_frequency: Reals = None, two_mode_shaper: dict[str, Any] | None = None,
) -> dict[str, Any]:
    """The shaper to set, with its frequency [Hz]; of the one for two modes that of the strongest. Raises NotKnown for none."""
    if shaper_kind is None and shaper_frequency is None:
        return recommended_shaper
    if shaper_kind == NONE:
        raise NotKnown("no shaper is to be set", "shaper_kind")
    if shaper_kind == TWO_MODES:
        if two_mode_shaper is None:
            raise NotKnown("the record has one mode; a shaper for two serves it no better", "shaper_kind")
        made = Shaper(TWO_MODES, np.array(two_mode_shaper["times"]), np.array(two_mode_shaper["amplitudes"]))
        return as_listed(made, modes[0].frequency, wandering(made, modes), modes, path_tolerance)
    kind = shaper_kind or recommended_shaper["name"]
    tuned = next(one for one in tuned_shapers if one["name"] == kind)
    return tuned if shaper_frequency is None else at_frequency(kind, float(shaper_frequency), modes, path_tolerance)


@quantity("[travel]/s²", symbol="a_s", source="a little below what the shaper allows", formula="0.9·a allowed",
          label="Acceleration by the shaper")
def shaped_acceleration(chosen_shaper: dict[str, Any]) -> float:
    """Acceleration to set with the chosen shaper."""
    return A_LITTLE_BELOW * float(chosen_shaper["allowed_acceleration"])


@quantity("s", symbol="t_s", source="a shaped move ends when its last impulse has", formula="t of the last impulse",
          label="Delay of the shaper", shown="ms")
def shaper_duration(chosen_shaper: dict[str, Any]) -> float:
    """How much longer every move takes with the chosen shaper [s]."""
    return float(chosen_shaper["times"][-1])
