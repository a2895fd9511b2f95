"""All axes together: every check at each level, sums against a second way, what an axis does not know, one supply among several."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from urban_mule.core.drive.together import AxisTogether, MadeMove, SpindleTogether
from urban_mule.core.drive.waiting import waiting_words
from urban_mule.core.drive.wiring import DriverWiring, clashes
from urban_mule.core.moves.machine_cycle import MachineStep
from urban_mule.core.sheet.quantity import Unknown
from urban_mule.core.subjects import sheet_of

ONE = AxisTogether(
    name="X", stepper=True, motor_count=1.0, own_supply=None, current_rms=3.0, peak_power=40.0, copper_loss=14.0,
    stopping_energy=3.0, regenerated_energy=4.0, cycle_duration=2.0, voltage_limit=60.0, pulse_rate=40e3, microsteps=16.0,
    timing=((2.5e-6, None, 5e-6),))
PROJECT: dict[str, Any] = {
    "axes_together": (ONE,), "supply_kind": "linear", "supply_voltage": 48.0, "supply_power": 200.0, "supply_capacitance": 0.02,
    "supply_efficiency": 0.85, "power_factor": 0.65, "mains_voltage": 230.0, "circuit_rating": 10.0}


def together(**more: Any) -> AxisTogether:
    return AxisTogether(**{**vars(ONE), **more})


def wired(motor: str = "X", mode: str = "pulse", address: float | None = None, **terminals: str) -> DriverWiring:
    return DriverWiring(motor=motor, axis=motor[0], interface_mode=mode, bus_address=address, terminals=tuple(terminals.items()))


WHOLE = {"step": "1", "direction": "2", "enable": "3"}
def moving(name: str, lasts: float) -> AxisTogether:
    return together(name=name, moves=(MadeMove(lasts, np.array([0.0, lasts]), np.array([20.0, 20.0])),))


PAIRED = {"axes_together": (moving("X", 0.5), moving("Z", 1.3)), "machine_cycle": (MachineStep(axes=("X", "Z")),)}
ALIKE = {"axes_together": (moving("X", 0.5), moving("Z", 0.5)), "machine_cycle": (MachineStep(axes=("X", "Z"), dwell=0.1),)}
PROJECT_CASES: list[tuple[str, str, str, dict[str, Any], str]] = [
    ("supply power", "good", "the supply gives 200 W", {}, ""),
    ("machine cycle", "good", "takes 1.3 s; Z holds it up by 0.8 s.", PAIRED, "Quicken Z first"),
    ("machine cycle", "good", "takes 0.6 s; no axis holds the others up", ALIKE, "Nothing to do"),
    ("supply power", "tight", "120 W with headroom", {"supply_power": 110.0}, "supply of 120 W or more"),
    ("supply power", "short", "the supply gives 90 W", {"supply_power": 90.0}, "120 W or more"),
    ("bus after a stop", "good", "rises to 51 V; the driver of X takes 60 V", {}, ""),
    ("bus after a stop", "tight", "rises to 59.", {"supply_capacitance": 0.005}, "larger capacitor"),
    ("bus after a stop", "tight", "rises to 51 V", {"supply_kind": "switching"}, "switching supply takes nothing back"),
    ("bus after a stop", "short", "takes 60 V", {"supply_capacitance": 0.002},
     "4.63 mF of capacitor in all, or a brake resistor for 2 W"),
    ("supply power", "unknown", "Y left out",
     {"supply_power": 400.0, "axes_together": (ONE, together(name="Y", peak_power=None))}, "every axis"),
    ("bus after a stop", "unknown", "Y left out", {"axes_together": (ONE, together(name="Y", stopping_energy=None))}, "every axis"),
    ("circuit", "unknown", "Left out, since it is not known: S (power factor is not given)",
     {"spindles_together": (SpindleTogether("S", None, 2.0, 15.0, ("Power factor",)),)}, "Give that"),
    ("circuit", "short", "with S at least 8.76 A, 87.6 %",
     {"spindles_together": (SpindleTogether("S", None, 8.0, 15.0, ("Power factor",)),)}, "circuit of its own"),
    ("circuit", "good", "Supply and spindles together draw 2.76 A",
     {"spindles_together": (SpindleTogether("S", 2.0, 2.0, 15.0),)}, "electrician decide"),
    ("circuit", "good", "7.55 % of the circuit of 10 A", {}, "electrician decide"),
    ("circuit", "tight", "of the circuit", {"circuit_rating": 1.0}, "Count what else"),
    ("circuit", "short", "80 % may be drawn for hours", {"circuit_rating": 0.8}, "circuit of its own"),
    ("axes on the supply", "good", "1 axis hangs on this supply. Flap hangs on another",
     {"axes_together": (ONE, together(name="Flap", own_supply=24.0))}, ""),
    ("axes on the supply", "tight", "Of Z the heat in the winding is not known",
     {"axes_together": (ONE, together(name="Z", stepper=False, copper_loss=None))}, "winding figures"),
    ("axes on the supply", "unknown", "What Y draws is not known and left out",
     {"axes_together": (ONE, together(name="Y", peak_power=None))}, "every axis"),
    ("pulses together", "good", "of what the controller makes in all", {"total_pulse_rate_limit": 1e5}, ""),
    ("pulses together", "tight", "X takes most of it, 40 kHz", {"total_pulse_rate_limit": 45e3}, "fewer microsteps on X"),
    ("pulses together", "short", "133 %", {"total_pulse_rate_limit": 30e3}, "another form of signal"),
    ("shared pulses", "good", "200 kHz at most. X reaches it first", {"shared_pulses": True}, ""),
    ("shared pulses", "tight", "X reaches it first, at 88 %",
     {"shared_pulses": True, "axes_together": (ONE, together(name="Y", pulse_rate=1e3, timing=((11e-6, None, None),)))}, "on X"),
    ("shared pulses", "short", "The driver of Y makes every pulse 20 µs long",
     {"shared_pulses": True, "axes_together": (ONE, together(name="Y", microsteps=None, timing=((20e-6, None, None),)))}, "on X"),
    ("shared pulses", "unknown", "no driver says", {"shared_pulses": True, "axes_together": (together(timing=()),)}, "slowest"),
    ("wiring", "good", "1 driver is complete", {"wirings": (wired(**WHOLE),)}, ""),
    ("wiring", "tight", "Left open: enable of X", {"wirings": (wired(step="1", direction="2"),)}, "none where"),
    ("wiring", "tight", "upper end switch of X", {"wirings": (wired(**WHOLE, lower_end_switch="S"),)}, "none where"),
    ("wiring", "short", "1 is used for step of X and for fan of Y", {"wirings": (wired(**WHOLE), wired("Y", fan="1"))}, "its own"),
    ("bus addresses", "good", "2 drivers answer", {"wirings": (wired(mode="bus", address=1), wired("Y", "bus", 2))}, ""),
    ("bus addresses", "unknown", "bus address of Y", {"wirings": (wired(mode="bus", address=1), wired("Y", "bus"))}, "Type it"),
    ("bus addresses", "short", "X and Y both have address 1",
     {"wirings": (wired(mode="bus", address=1), wired("Y", "bus", 1))}, "own"),
]


@pytest.mark.parametrize(("check", "level", "said", "more", "nxt"), PROJECT_CASES, ids=lambda v: v if isinstance(v, str) else "")
def test_each_check_on_all_axes_together(check: str, level: str, said: str, more: dict[str, Any], nxt: str) -> None:
    found = next((v for v in sheet_of("machine").solve(**{**PROJECT, **more}).verdicts() if v.check == check), None)
    assert found is not None and found.level == level, found and found.sentence
    assert said in found.sentence and nxt in found.next, (found.sentence, found.next)


def solve(**more: Any) -> Any:
    return sheet_of("machine").solve(**{**PROJECT, **more})


def test_the_bus_rises_by_the_energy_and_the_capacitor_that_is_asked_for_just_holds_it() -> None:
    """Walked: the energy goes into the capacitor in small steps of charge."""
    axes = (ONE, together(name="Y", motor_count=2.0, stopping_energy=2.5, voltage_limit=55.0))
    solution = solve(axes_together=axes)
    volts, left, capacitance = 48.0, 3.0 + 2 * 2.5, 0.02
    for _ in range(200_000):
        charge = left / 200_000 / volts
        volts += charge / capacitance
        left = 8.0
    assert solution["bus_voltage_after_stop"] == pytest.approx(volts, rel=1e-5)
    needed = solution["braking_capacitance_needed"]
    assert solve(axes_together=axes, supply_capacitance=needed)["bus_voltage_after_stop"] == pytest.approx(55.0)
    at_the_limit = solve(axes_together=axes, supply_voltage=55.0).find("braking_capacitance_needed")
    assert isinstance(at_the_limit, Unknown) and "already" in at_the_limit.reason


def test_an_axis_on_another_supply_stays_out_but_its_pulses_count() -> None:
    flap = together(name="Flap", own_supply=24.0, pulse_rate=5e3)
    both, alone = solve(axes_together=(ONE, flap)), solve(axes_together=(ONE,))
    for name in ("supply_current_by_phases", "supply_power_by_balance", "stopping_energy_together", "braking_power"):
        assert both[name] == alone[name], name
    assert both["total_pulse_rate"] == 45e3
    same = solve(axes_together=(ONE, together(name="Flap", own_supply=48.0)))
    assert same["supply_current_by_phases"] == 2 * alone["supply_current_by_phases"], "who names the same voltage hangs on it"
    assert solve(axes_together=(ONE, flap), supply_voltage=None)["supply_current_by_phases"] == pytest.approx(4.0)


def test_what_an_axis_does_not_know_is_left_out_and_nothing_is_made_up_where_none_knows() -> None:
    dark = together(current_rms=None, peak_power=None, copper_loss=None, stopping_energy=None, pulse_rate=None)
    assert solve(axes_together=(ONE, dark))["supply_power_by_balance"] == pytest.approx(40 / 0.9 + 14)
    solution = solve(axes_together=(dark,))
    for name in ("supply_current_by_phases", "supply_power_by_balance", "supply_power_needed", "mains_current", "total_pulse_rate"):
        assert isinstance(solution.find(name), Unknown), name
    assert solve(supply_headroom=2.0)["supply_power_needed"] == pytest.approx(2 * max(3 * 2 / 3 * 48, 40 / 0.9 + 14))


def test_how_long_the_supply_keeps_its_charge() -> None:
    """Discharge at constant power, walked."""
    volts, time = 48.0, 0.0
    while volts > 5.0:
        volts -= 12.0 / volts / 0.02 * 1e-4
        time += 1e-4
    assert solve(standing_load=12.0)["discharge_time"] == pytest.approx(time, rel=1e-3)
    nothing = solve().find("discharge_time")
    assert isinstance(nothing, Unknown) and nothing.missing == ("standing_load",)


def test_the_slowest_driver_rules_and_nothing_is_said_where_nothing_is_shared() -> None:
    axes = (ONE, together(name="Y", timing=((1e-6, 4e-6, 20e-6), (None, None, None))))
    solution = solve(axes_together=axes, shared_pulses=True)
    found = [solution[f"shared_{name}"] for name in ("pulse_width", "pulse_gap", "direction_setup")]
    assert found == [2.5e-6, 4e-6, 20e-6]
    alone = solve(axes_together=axes, shared_pulses=False).find("shared_pulse_width")
    assert isinstance(alone, Unknown) and not alone.applies


def test_what_may_share_a_terminal_and_what_may_not() -> None:
    leader, follower = wired(**WHOLE), DriverWiring(motor="X follower", axis="X", terminals=tuple(WHOLE.items()))
    assert clashes((leader, follower)) == [], "two motors of one axis may hang on one pulse output"
    assert clashes((leader, wired("Y", step="4", direction="5", enable="3"))) == [], "one enable for all"
    assert len(clashes((leader, wired("Y", **WHOLE)))) == 2, "step and direction of two axes may not"
    assert clashes((wired(step="A 1", direction="a 1 "),)) == ["A 1 is used for step of X and for direction of X"]
    assert clashes((wired(step="none"), wired("Y", step="None"))) == []
    braked = DriverWiring(motor="Z", axis="Z", interface_mode="single wire", brake=True, terminals=(("step", "1"),))
    assert set(braked.open) == {"direction", "enable", "bus", "brake"}


def test_nobody_is_told_to_wait_less_than_is_safe_to_say() -> None:
    """By whatever capacitor and load: five minutes at least, the coasting of a tool if that is longer; the voltage is measured."""
    charged = {"supply_capacitance": 0.2, "standing_load": 0.4}
    for changed, least in (({}, 300.0), ({"standing_load": 100.0}, 300.0), (charged, 430.0),
                           ({"spindles_together": (turning(900.0),)}, 900.0), ({"spindles_together": (turning(None),)}, 300.0)):
        solution = sheet_of("machine").solve(**{**PROJECT, **changed})
        wait = solution["wait_before_reaching_in"]
        said = waiting_words(wait, changed.get("spindles_together", ()))
        assert wait >= least and "measure below 5 V" in said and "see that nothing turns" in said, changed
    assert "S coasts for an unknown time" in said and "wait 5 minutes at least" in said
    assert waiting_words(301.0).startswith("wait 5.1 minutes"), "at least is not less"


def turning(coast: float | None) -> SpindleTogether:
    return SpindleTogether(name="S", current=2.0, least_current=2.0, lacking=(), coast_time=coast)
