"""The end of a move in time: where it is commanded to be and where the load swings, with a shaper and without."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

import numpy as np

from urban_mule.core.load.cycle import Move, ramp_phases
from urban_mule.core.readings.shapers import NONE
from urban_mule.core.ring.modes import Mode
from urban_mule.core.ring.set_shaper import impulses_of, shaper_of
from urban_mule.core.ring.shaped import Swinging
from urban_mule.core.ring.shaper import Shaper
from urban_mule.core.ring.swing import lifts, moved, settling
from urban_mule.core.sheet.quantity import quantity
from urban_mule.core.sheet.record import record

POINTS = 700


@record(frozen=True, eq=False, repr=False)
class EndOfMove:
    """The end of a move. time [s]: from when the command without shaper ends; command, load [travel]: short of the target;
    ends [s]: when the command ends with its shaper; swing [travel]: what may swing then, in the worst phase; settles [s]: how long
    that takes until it is within what counts as settled.
    """

    time: np.ndarray
    command: np.ndarray
    load: np.ndarray
    ends: float
    swing: float
    settles: float


def _corners(move: Move) -> tuple[np.ndarray, np.ndarray, np.ndarray, float]:
    """When the acceleration of a move changes [s], by how much it jumps there [travel/s²] and its slope [travel/s³]; the time of
    the whole move [s].
    """
    times, jumps, slopes = [0.0], [0.0], [0.0]
    now, last, slope = 0.0, 0.0, 0.0
    for duration, first, end in ramp_phases(move):
        if not duration:
            continue
        steeper = (float(end) - float(first)) / float(duration)
        times.append(now)
        jumps.append(float(first) - last)
        slopes.append(steeper - slope)
        now, last, slope = now + float(duration), float(end), steeper
    return np.array([*times, now]), np.array([*jumps, -last]), np.array([*slopes, -slope]), now


def _swung(since: np.ndarray, mode: Mode, jumps: np.ndarray, slopes: np.ndarray) -> np.ndarray:
    """How far the load stays behind after the acceleration jumps and changes its slope; since: [s], times × corners."""
    w, z = 2 * math.pi * mode.frequency, mode.damping_ratio
    d = w * math.sqrt(1 - z**2)
    t = np.maximum(since, 0.0)
    fade, c, s = np.exp(-z * w * t), np.cos(d * t), np.sin(d * t)
    jump = (1 - fade * (c + z * w / d * s)) / w**2
    slope = (t - 2 * z / w + fade * (2 * z / w * c + (2 * z**2 - 1) / d * s)) / w**2
    return -np.asarray((jump * jumps + slope * slopes).sum(axis=-1))


def in_time(move: Move, shaper: Shaper, mode: Mode, time: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Where a move is commanded to be, and how far the load is from there [travel]; time: from its beginning [s], n. Raises
    NotKnown.
    """
    corners, jumps, slopes, _ = _corners(move)
    since = np.maximum(time[:, None, None] - shaper.times[:, None] - corners, 0.0)  # times × impulses × corners
    placed = (since**2 / 2 * jumps + since**3 / 6 * slopes).sum(axis=-1) @ shaper.amplitudes
    return placed, _swung(since, mode, jumps, slopes) @ shaper.amplitudes


def end_of_move(move: Move, shaper: Shaper, swinging: Swinging, left: float, span: tuple[float, float]) -> EndOfMove:
    """The end of a move with a shaper that leaves a share of the swing; span: from when to when, of the end without shaper [s]."""
    mode, (*_, whole) = swinging.mode, _corners(move)
    time = np.linspace(*span, POINTS)
    command, off = in_time(move, shaper, mode, whole + time)
    far = abs(float(move.distance))
    swing = float(np.asarray(swinging.left_of(lifts(moved((move,), move.speed, move.acceleration), mode).max() * left)))
    return EndOfMove(time, command - far, command + off - far, float(shaper.times[-1]), swing,
                     float(settling(swing, swinging.tolerance, mode)))


@quantity("", symbol="x(t)", source="one mode on a command that is shaped: linear, damped, from rest", structure=True,
          formula="x″ + 2ζωx′ + ω²x = −a(t)", label="End of a move", sought=True)
def move_ends(
    cycle: tuple[Move, ...], swinging: Swinging, settings_as_set: dict[str, Any], acceleration_to_set: float, path_tolerance: float,
    two_mode_shaper: dict[str, Any] | None = None,
) -> tuple[EndOfMove, EndOfMove]:
    """How the fastest move of the cycle ends, as the tag has it: without a shaper and with the one that is set."""
    fastest = max(cycle, key=lambda one: (float(one.acceleration), abs(float(one.distance))))
    move = replace(fastest, acceleration=min(float(fastest.acceleration), acceleration_to_set))
    name, frequency, mode = settings_as_set["shaper"], settings_as_set["frequency"], swinging.mode
    plain = impulses_of(NONE, None, mode, None)
    shaper = impulses_of(name, frequency, mode, two_mode_shaper)
    left = swinging.as_found(shaper_of(name, frequency, mode, path_tolerance, two_mode_shaper)).left
    bare, shaped = (end_of_move(move, *one, (0.0, 0.0)) for one in ((plain, swinging, 1.0), (shaper, swinging, left)))
    period = 1 / mode.frequency
    until = max(bare.ends + bare.settles, shaped.ends + shaped.settles, 3 * period) + 1.5 * period
    span = (-1.5 * period, until)
    return end_of_move(move, plain, swinging, 1.0, span), end_of_move(move, shaper, swinging, left, span)
