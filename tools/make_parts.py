"""Makes the parts library that ships: invented motors, drivers, brakes and reductions that follow real scaling. `make parts`.

Steppers: torque goes with the shear stress in the air gap times its area and radius, rotor inertia with radius⁴ × length,
heat with the cooling surface, electrical time constant with the square of the frame. The rated current then only says how
the same copper is wound. Every other figure follows; nothing is copied from anywhere.
"""

from __future__ import annotations

import csv
import json
import math
import random
from pathlib import Path
from typing import Any

from tools.make_printed import with_curves
from urban_mule.core.motor.heat import COPPER_COEFFICIENT

PARTS = Path(__file__).parent.parent / "src/urban_mule/store/library/shipped"
SHEAR = 17.5e3  # Pa in the air gap of a hybrid stepper
AIR_GAP = 0.335  # radius of the air gap over the frame
ENDS = 0.42  # length taken by end bells over the frame
ROTOR_FILL = 0.55  # of a solid steel rotor
STEEL = 7400.0  # kg/m³ of the rotor stack
COOLING = 16.0  # W/(m²·K) of a flange-mounted motor
RATED_RISE = 62.0  # K with both phases at the rated current
DENSITY = 4050.0  # kg/m³ of a whole motor in its square envelope
COPPER_AND_STEEL = 460.0  # J/(kg·K)
LENGTHS = {42: (28, 34, 40, 48, 60), 57: (41, 51, 56, 76, 84, 100), 60: (56, 67, 88), 86: (65, 80, 98, 118, 126, 156),
           110: (99, 115, 150, 165, 201)}
CURRENTS = {42: (1.0, 1.7, 2.5), 57: (2.0, 2.8, 4.2), 60: (2.8, 4.2, 5.0), 86: (4.0, 5.5, 7.0), 110: (5.0, 6.5, 8.0)}


def three(value: float) -> float:
    """Three digits, as data sheets print."""
    return float(f"{value:.3g}")


def surface(frame: float, length: float) -> float:
    return 4 * frame * length + 2 * frame**2


def stepper(frame_mm: int, length_mm: int, current: float, leads: int, figures_for: str, random_: random.Random,
            step: float = 1.8) -> dict[str, Any]:
    """One stepper; current: the rating for the wiring that the figures are for."""
    frame, length = frame_mm / 1e3, length_mm / 1e3
    radius, stack = AIR_GAP * frame, length - ENDS * frame
    spare = 1.0 if leads == 4 else 0.94  # more leads, less copper
    fine = 1.0 if step == 1.8 else 0.86  # finer teeth carry a little less
    torque = SHEAR * 2 * math.pi * radius**2 * stack * spare * fine * random_.uniform(0.96, 1.04)
    if figures_for == "half coil":
        torque /= math.sqrt(2)  # half of the copper carries current
    thermal = 1 / (COOLING * surface(frame, length)) * random_.uniform(0.95, 1.05)
    heat = RATED_RISE / thermal / (1 + 0.00393 * RATED_RISE)
    resistance = heat / (2 * current**2)
    time_constant = 2.1e-3 * (frame / 0.042) ** 2 * random_.uniform(0.9, 1.1)
    if figures_for == "half coil":
        time_constant /= 2  # a quarter of the inductance of both coils in series, half of their resistance
    mass = DENSITY * frame**2 * length
    detent = 0.026 * SHEAR * 2 * math.pi * radius**2 * stack * random_.uniform(0.8, 1.2)
    word = {"": "", "half coil": ", half coil", "parallel": ", parallel", "series": ", series"}[figures_for]
    return {
        "kind": "stepper", "name": f"{frame_mm} mm stepper {three(torque):g} N·m, {current:g} A, {leads} leads{word}"
        + (f", {step:g}°" if step != 1.8 else ""),
        "frame [mm]": frame_mm, "length [mm]": length_mm, "leads": leads, "figures_for": figures_for,
        "holding_torque [N·m]": three(torque), "rated_current [A]": current, "rated_current_is": "rms",
        "phase_resistance [Ω]": three(resistance), "phase_inductance [mH]": three(1e3 * time_constant * resistance),
        "rotor_inertia [g·cm²]": three(1e7 * ROTOR_FILL * math.pi / 2 * STEEL * radius**4 * stack), "step_angle [°]": step,
        "drag_torque [N·m]": three(detent), "thermal_resistance [K/W]": three(thermal),
        "thermal_time_constant [min]": three(mass * COPPER_AND_STEEL * thermal / 60), "mass [kg]": three(mass),
        "price": round(9 + 21 * mass**0.8 + 2 * (leads > 4) + random_.uniform(-2, 3)),
        "lead_time [d]": random_.choice((2, 3, 5, 10, 21) if frame_mm < 80 else (5, 10, 21, 35)),
    }


def steppers() -> list[dict[str, Any]]:
    chance, rows = random.Random(42), []
    for frame, lengths in LENGTHS.items():
        low, middle, high = CURRENTS[frame]
        for length in lengths:
            rows += [stepper(frame, length, middle, 4, "", chance), stepper(frame, length, high, 4, "", chance),
                     stepper(frame, length, low, 6, "half coil", chance), stepper(frame, length, high, 8, "parallel", chance),
                     stepper(frame, length, middle, 8, "half coil", chance)]
    rows += [stepper(frame, length, CURRENTS[frame][1], 4, "", chance, 0.9) for frame in (42, 57) for length in LENGTHS[frame]]
    return rows


def servo(frame_mm: int, power: float, rated_rpm: float, max_rpm: float, volts: float, heavy: bool,
          random_: random.Random) -> dict[str, Any]:
    """One servo by its power; torque volume, rotor, winding and cooling follow.

    The winding turns a third faster without load than the sheet allows, and loses a share of the power that falls with
    size; the housing sheds that loss at a rise of 90 K.
    """
    torque = power / (rated_rpm * 2 * math.pi / 60)
    constant = math.sqrt(1.5) * volts / (1.35 * max_rpm * 2 * math.pi / 60)  # N·m per A RMS
    loss = 0.12 * power * (100 / power) ** 0.25
    resistance = loss * (constant / torque) ** 2 / 3 * 2  # line to line
    inductance = resistance * 1e-3 * (torque / 0.3) ** 0.35
    inertia = 2.4e-5 * (torque / 0.64) ** 1.45 * (3.5 if heavy else 1.0) * random_.uniform(0.9, 1.1)
    mass = 0.35 + 1.05 * torque**0.72 * (1.15 if heavy else 1.0)
    rotor = "heavy rotor" if heavy else "light rotor"
    return {
        "kind": "servo", "name": f"{frame_mm} mm servo {power:g} W, {rated_rpm:g} rpm, {volts:g} V, {rotor}",
        "frame [mm]": frame_mm,
        "length [mm]": round(45 + 85 * torque**0.45), "rated_torque [N·m]": three(torque),
        "motor_peak_torque [N·m]": three(torque * (3.0 if volts > 100 else 2.8)), "rated_speed [rpm]": rated_rpm,
        "max_speed [rpm]": max_rpm, "rated_voltage [V]": volts, "rotor_inertia [g·cm²]": three(inertia * 1e7),
        "peak_time [s]": random_.choice((1.0, 2.0, 3.0)), "counts_per_turn": random_.choice((4000, 8192, 10000, 16384)),
        "torque_constant_rms [N·m/A]": three(constant), "pole_pairs": 4 if frame_mm < 100 else 5,
        "phase_resistance [Ω]": three(resistance), "phase_inductance [mH]": three(inductance * 1e3),
        "winding_figures_are": "line to line", "thermal_resistance [K/W]": three(90 / (loss * (1 + COPPER_COEFFICIENT * 90))),
        "thermal_time_constant [s]": round(700 * mass**0.4, -1),
        "mass [kg]": three(mass), "price": round(70 + 38 * torque**0.75 + 0.06 * power + random_.uniform(-5, 8)),
        "lead_time [d]": random_.choice((3, 5, 10, 21)),
    }


def servos() -> list[dict[str, Any]]:
    chance, rows = random.Random(60), []
    for frame, power in ((40, 50), (40, 100), (60, 150), (60, 200), (60, 400), (80, 400), (80, 550), (80, 750)):
        for volts in ((24, 48) if power <= 200 else (48, 72)):
            rows.append(servo(frame, power, 3000, 3600 if volts < 48 else 4500, volts, False, chance))
    for frame, power in ((40, 100), (60, 200), (60, 400), (80, 750), (80, 1000), (100, 1000), (100, 1500), (130, 2000)):
        for heavy in (False, True):
            rows.append(servo(frame, power, 3000, 5000, 310, heavy, chance))
    for frame, power in ((100, 850), (110, 1200), (130, 1000), (130, 1300), (130, 1800), (180, 2900), (180, 4400), (180, 5500)):
        rows.append(servo(frame, power, 1500, 2500, 310, True, chance))
    return rows


def reductions() -> list[dict[str, Any]]:
    chance, rows = random.Random(7), []

    def row(kind: str, what: str, frame: int, ratio: float, efficiency: float, rated: float, j_in: float, j_out: float,
            stiffness: float, play: float, mass: float, price: float) -> dict[str, Any]:
        return {
            "kind": kind, "name": f"{frame} mm {what} {ratio:g}:1", "frame [mm]": frame, "ratio": ratio, "efficiency": efficiency,
            "rated_torque [N·m]": three(rated), "inertia_in [g·cm²]": three(j_in * 1e7), "inertia_out [g·cm²]": three(j_out * 1e7),
            "torsional_stiffness [N·m/rad]": three(stiffness), "clearance [°]": play, "mass [kg]": three(mass),
            "price": round(price + chance.uniform(-3, 5)), "lead_time [d]": chance.choice((5, 10, 21, 35))}

    for frame, rated, j in ((42, 9.0, 3e-6), (60, 26.0, 1.3e-5), (90, 95.0, 6e-5)):
        for ratio in (3, 5, 10, 20):
            stages = 1 if ratio <= 10 else 2
            mass, price = 0.4 * (frame / 42) ** 2.4 * (0.6 + 0.4 * stages), 60 * (frame / 42) ** 1.3 * (0.5 + 0.5 * stages)
            rows.append(row("reduction", "planetary", frame, ratio, 0.95 if stages == 1 else 0.91, rated, j * (3 / ratio) ** 0.5,
                            0.0, 95 * rated, 0.13 if stages == 1 else 0.2, mass, price))
    for frame, rated, j in ((57, 8.0, 1.6e-5), (86, 28.0, 9e-5)):
        for ratio in (1.5, 2, 3):
            rows.append(row("reduction", "belt stage", frame, ratio, 0.96, rated * ratio, j, j * ratio**3, 900 * rated, 0.0,
                            0.35 * (frame / 57) ** 2 * ratio, 28 * (frame / 57) + 6 * ratio))
    for frame, ratio, efficiency in ((57, 10, 0.72), (57, 30, 0.5), (86, 20, 0.6), (86, 50, 0.38)):
        larger = frame / 57
        rows.append(row("worm", "worm", frame, ratio, efficiency, 20 * larger**2.5, 1.5e-5, 8e-5, 2500 * larger**2, 0.25,
                        1.1 * larger**2, 95 * larger))
    return rows


def brakes() -> list[dict[str, Any]]:
    chance, rows = random.Random(9), []
    for frame, torques in ((42, (0.3, 0.5)), (57, (0.8, 1.5, 2.0)), (86, (3.0, 5.0, 8.0)), (110, (12.0, 18.0))):
        for torque in torques:
            rows.append({
                "kind": "brake", "name": f"{frame} mm brake {torque:g} N·m", "frame [mm]": frame, "brake_torque [N·m]": torque,
                "brake_delay [ms]": round(14 + 22 * torque**0.35), "brake_inertia [g·cm²]": three(16 * torque**1.1),
                "coil_power [W]": three(5.5 + 4.2 * torque**0.6), "mass [kg]": three(0.14 + 0.16 * torque**0.8),
                "price": round(32 + 11 * torque**0.8 + chance.uniform(-2, 3)), "lead_time [d]": chance.choice((5, 10, 21))})
    return rows


ROWS_OF_CURRENT = (0.28, 0.38, 0.48, 0.58, 0.69, 0.79, 0.9, 1.0)  # of the greatest current, as the switches count down
RESISTORS = (0.22, 0.15, 0.11, 0.1, 0.075, 0.05, 0.033, 0.022, 0.015)  # Ω, as they are sold


def positions(number: int, count: int) -> str:
    """The positions of so many switches for a number, the first switch the least digit."""
    return f"{number:0{count}b}"[::-1]


def current_table(first: int, current: float) -> dict[str, Any]:
    """Three switches that set the current: all on is the least."""
    return {"switches": [first, first + 1, first + 2], "rows": [
        {"positions": positions(7 - place, 3), "current_peak": three(share * current)}
        for place, share in enumerate(ROWS_OF_CURRENT)]}


def microstep_table(switches: list[int], counts: tuple[int, ...]) -> dict[str, Any]:
    return {"switches": switches, "rows": [
        {"positions": positions(place, len(switches)), "microsteps": count} for place, count in enumerate(counts)]}


def banks(way: str, current: float, mode: str) -> list[dict[str, Any]]:
    """Switches and jumpers of a driver by the way in which its current is set."""
    if way == "switches":
        idle = {"switches": [4], "rows": [{"positions": "0", "hold_fraction": 0.5}, {"positions": "1", "hold_fraction": 1.0}]}
        fine = (2, 4, 8, 16, 32, 64, 128, 5, 10, 20, 25, 40, 50, 100, 125, 200)
        if current > 4:
            return [{"name": "S1", "kind": "switches", "count": 8, "tables": [
                current_table(1, current), idle, microstep_table([5, 6, 7, 8], fine)]}]
        return [{"name": "S1", "kind": "switches", "count": 6, "tables": [
            current_table(4, current), microstep_table([1, 2, 3], (1, 2, 4, 8, 16, 32, 64, 128))]}]
    if way == "trimmer":
        powers = microstep_table([1, 2, 3], (1, 2, 4, 8, 16, 32, 64, 128))
        return [{"name": "J1", "kind": "jumpers", "count": 3, "tables": [powers]}]
    modes = ("pulse", mode)
    return [{"name": "J1", "kind": "jumpers", "count": 1, "tables": [
        {"switches": [1], "rows": [{"positions": str(place), "interface_mode": one} for place, one in enumerate(modes)]}]}]


def driver(way: str, current: float, volts: float, mode: str, random_: random.Random) -> dict[str, Any]:
    """One stepper driver: its bridge gets wider with the current, and its cooling sheds its loss at 45 °C of air."""
    bridge = 0.8 / current**1.2
    standing = 0.25 + 0.06 * current
    loss = current**2 * bridge + standing
    limit = 120.0 if current < 4 else 95.0
    finned = 0.88 * (limit - 45) / loss
    resistor = min(RESISTORS, key=lambda one: abs(one - 0.24 / current))
    what = {"trimmer": "trimmer driver", "switches": "switch driver", "number": "driver by number",
            "register": "register driver"}[way]
    wired = {"pulse": "", "single wire": ", single wire", "bus": ", bus"}[mode]
    small = current < 4.5
    typed = way in ("number", "register")
    sensed = {"sense_resistance [mΩ]": round(resistor * 1e3), "sense_resistance_extra [mΩ]": 20 if typed else ""}
    row: dict[str, Any] = {
        "kind": "driver", "name": f"{current:g} A {what}, {volts:g} V{wired}", "current_limit [A]": current,
        "voltage_limit [V]": volts, "voltage_drop [V]": 0.4 if small else 0.9, "current_entry": way,
        "entry_is": "rms" if way == "number" else "", **({} if way == "switches" else sensed),
        "trimmer_gain": 8 if way == "trimmer" and current < 2 else 5 if way == "trimmer" else "",
        "full_scale_voltage [V]": three(1.06 * current * (resistor + 0.02)) if way == "register" else "",
        "register_steps": 32 if way == "register" else "", "bridge_resistance [mΩ]": round(bridge * 1e3),
        "driver_standing_loss [W]": three(standing), "driver_temperature_limit [°C]": limit,
        "thermal_resistance_bare [K/W]": three(2.2 * finned) if small else "", "thermal_resistance_finned [K/W]": three(finned),
        "thermal_resistance_fan [K/W]": three(0.5 * finned),
        "minimum_pulse_width [µs]": {"trimmer": 1.0, "switches": 2.5, "number": 0.1, "register": 0.1}[way],
        "direction_setup [µs]": {"trimmer": 0.65, "switches": 5.0, "number": 0.02, "register": 0.02}[way],
        "finest_microsteps": {"trimmer": 128, "switches": 200 if current > 4 else 128, "number": 256, "register": 256}[way],
        "interpolated_microsteps": 256 if typed else "", "driver_clock [MHz]": 12 if typed else "",
        "quiet_torque_share [%]": 70 if typed else "", "interface_mode": mode,
        "logic_supply": "from the controller" if small else "of its own" if mode == "bus" else "from the motor supply",
        "logic_voltage [V]": 5 if not small else 3.3, "price": round(4 + 6 * current + 0.15 * volts + random_.uniform(-2, 4)),
        "lead_time [d]": random_.choice((2, 3, 5, 10, 21)), "banks": json.dumps(banks(way, current, mode), ensure_ascii=False)}
    return row


def drivers() -> list[dict[str, Any]]:
    """Every way to set a current, from 1 to 10 A peak and 24 to 80 V."""
    chance = random.Random(31)
    made = [("trimmer", current, volts, "pulse") for current, volts in (
        (1.0, 24), (1.5, 28), (2.0, 36), (2.5, 45), (3.5, 36), (5.5, 63))]
    made += [("switches", current, volts, "pulse") for current, volts in (
        (2.0, 36), (3.5, 40), (4.2, 50), (5.6, 50), (6.2, 60), (7.2, 72), (8.2, 80), (10.0, 80))]
    made += [("number", current, volts, "single wire") for current, volts in (
        (1.2, 28), (2.0, 28), (2.8, 36), (4.0, 60), (6.5, 60))]
    made += [("number", 3.0, 48, "bus"), ("number", 5.0, 60, "bus")]
    made += [("register", current, volts, "bus") for current, volts in ((1.6, 28), (2.4, 60), (3.2, 48), (5.0, 60), (8.0, 72))]
    made += [("register", 2.6, 48, "single wire"), ("register", 10.0, 80, "bus")]
    return [driver(way, current, volts, mode, chance) for way, current, volts, mode in made]


def main() -> None:
    PARTS.mkdir(exist_ok=True)
    for name, rows in (("steppers", steppers()), ("servos", servos()), ("with_curves", with_curves(steppers(), servos())),
                       ("drivers", drivers()),
                       ("reductions", reductions()), ("brakes", brakes())):
        with (PARTS / f"{name}.csv").open("w", encoding="utf-8", newline="") as file:
            columns = {column: None for row in rows for column in row}
            table = csv.DictWriter(file, list(columns), lineterminator="\n", restval="")
            table.writeheader()
            table.writerows(rows)
        print(f"{name}: {len(rows)}")


if __name__ == "__main__":
    main()
