"""Modes from clean records: known single modes and close pairs, tapped and swept, made without the code that finds them."""

from __future__ import annotations

import numpy as np
import pytest

from urban_mule.core.readings.acceleration import AccelerationReading
from urban_mule.core.ring.modes import Mode
from urban_mule.core.subjects import axis_sheet

RATE = 1000.0


def tap(frequency: float, damping: float, at: float = 0.5) -> np.ndarray:
    """A tap at a moment of a record of 5 s, which then rings out or is cut off."""
    u, w = np.arange(5 * RATE) / RATE - at, 2 * np.pi * frequency
    return np.where(u >= 0, 10 * np.exp(-damping * w * np.maximum(u, 0)) * np.cos(w * np.sqrt(1 - damping**2) * u), 0.0)


def sweep(frequency: float, damping: float, last: float) -> np.ndarray:
    """The acceleration of a mode shaken from 2 Hz to `last` in 10 s, by the transform of its accelerance."""
    t = np.arange(10 * RATE) / RATE
    shaken = np.sin(2 * np.pi * (2 * t + (last - 2) * t**2 / 20))
    r = np.fft.rfftfreq(2 * t.size, 1 / RATE) / frequency
    return np.asarray(np.fft.irfft(np.fft.rfft(shaken, 2 * t.size) * -r**2 / (1 - r**2 + 2j * damping * r))[:t.size])


def modes(values: np.ndarray) -> tuple[Mode, ...]:
    reading = AccelerationReading(np.arange(values.size) / RATE, values[:, None])
    found = axis_sheet("linear", "stepper").solve(acceleration_reading=reading).find("modes")
    return found if isinstance(found, tuple) else ()


def test_every_clean_record_of_one_mode_gives_its_frequency_and_damping() -> None:
    rng, wrong = np.random.default_rng(1), []
    for number in range(200):
        f, zeta = np.exp(rng.uniform(np.log((8, 0.008)), np.log((120, 0.08))))
        record = tap(f, zeta, rng.uniform(0.1, 1)) if number % 2 else sweep(f, zeta, min(400.0, 3 * f))
        found = modes(record)
        if not found or abs(found[0].frequency / f - 1) > 0.01 or abs(found[0].damping_ratio / zeta - 1) > 0.15:
            wrong.append((number, f, zeta))
    assert not wrong
    assert modes(tap(20, 0.012))[0].damping_ratio == pytest.approx(0.012, rel=0.02), "3.9 times too much before"


def test_close_pairs_are_told_apart_more_often_than_not() -> None:
    rng, found = np.random.default_rng(5), 0
    for number in range(40):
        f = np.exp(rng.uniform(np.log(12), np.log(80)))
        g, (z1, z2) = f * rng.uniform(1.15, 1.35), np.exp(rng.uniform(np.log(0.01), np.log(0.04), 2))
        record = tap(f, z1) + 0.7 * tap(g, z2) if number % 2 else sweep(f, z1, 400) + 0.7 * sweep(g, z2, 400)
        strongest = sorted(m.frequency for m in modes(record)[:2])
        found += len(strongest) == 2 and max(abs(strongest[0] / f - 1), abs(strongest[1] / g - 1)) < 0.02
    assert found >= 30, found
