"""What the error of a run is made of, part by part, and what repairs each."""

from __future__ import annotations

import math

import numpy as np

from urban_mule.core.proof.corrections import line_through
from urban_mule.core.proof.periodic import Wave
from urban_mule.core.proof.positioning import Bands
from urban_mule.core.readings.two_way import SPREAD, TwoWayReading
from urban_mule.core.sheet.quantity import quantity

REPEATS = "repeats with "
REPAIRS = {
    "reversal": "Most of it is reversal: take out the play, or compensate it.",
    "scatter": "Most of it is scatter: look for play and loose parts; repeat with a better gauge.",
    "scale error": "Most of it is a straight line: correct the steps per unit.",
    "rest along the travel": "Most of it is along the travel: use a correction table.",
    "slip": "It stands farther from repeat to repeat, always the same way: something slips (belt, pulley, set screw, coupling) or"
            " steps are lost. Mark shaft and hub with one stroke and run again; no correction mends it.",
    "drift": "Most of it is drift: let it warm up before it works, and run again.",
}


def repair_of(part: str) -> str:
    """What repairs a part of the error."""
    if part.startswith(REPEATS):
        return f"Most of it {part}: an eccentric or bent part of that period; a table with points too far apart does not mend it."
    return REPAIRS[part]


@quantity("", symbol="", source="shares of A by least squares along the travel", structure=True,
          formula="straight line, reversal, scatter, what repeats, drift, and what remains")
def error_shares(
    positioning_bands: Bands, periodic_errors: tuple[Wave, ...] = (), drift_in_run: float = 0.0, walks_one_way: bool = False,
    positioning_reading: TwoWayReading | None = None,
) -> dict[str, float]:
    """What makes the error [travel]: slope over the travel, reversal, scatter (4 s), what repeats (twice its amplitude), drift in
    the run, and the rest of the mean line. What walks from repeat to repeat is drift or slip, and no scatter.
    """
    bands = positioning_bands
    shares = {"reversal": float(np.mean(np.abs(bands.reversal)))}
    if bands.s_up is not None and bands.s_down is not None:
        shares["scatter"] = float(SPREAD * np.mean(bands.s_up + bands.s_down) / 2)
    if bands.targets.size > 2:
        line = line_through(bands.targets, bands.middle)
        shares["scale error"] = float(abs(line.slope) * np.ptp(bands.targets))
        waves = sum((2 * wave.amplitude for wave in periodic_errors), 0.0)
        if periodic_errors:
            shares[f"{REPEATS}{periodic_errors[0].name}"] = waves
        shares["rest along the travel"] = max(0.0, float(np.ptp(bands.middle - line.at(bands.targets))) - waves)
    if abs(drift_in_run) > (shares.get("scatter", 0.0) or 0.0) / 4:
        shares["slip" if walks_one_way else "drift"] = abs(drift_in_run)
        repeats = 0 if positioning_reading is None else min(len(positioning_reading.up), len(positioning_reading.down))
        if repeats > 1 and "scatter" in shares:  # the standard deviation of so many even steps is among what was called scatter
            walked = abs(drift_in_run) / (repeats - 1) * math.sqrt(repeats * (repeats + 1) / 12)
            shares["scatter"] = SPREAD * math.sqrt(max(0.0, (shares["scatter"] / SPREAD) ** 2 - walked**2))
    return shares
