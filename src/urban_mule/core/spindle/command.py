"""How a spindle is told its speed: by pulses, or by a voltage through a measured table."""

from __future__ import annotations

import math

import numpy as np

from urban_mule.core.readings.straight_line import straight_line
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record


@record(frozen=True, eq=False, repr=False)
class SpeedTable:
    """Commands [V] and the speeds of the tool that they made [rad/s], both rising."""

    command: np.ndarray
    speed: np.ndarray


@quantity("Hz", symbol="f_c", source="counts a second at the motor through the electronic gear", formula="N_c·G_d/G_n·ω_hi·i ÷ 2π",
          label="Pulse rate", shown="kHz")
def spindle_pulse_rate(
    counts_per_turn: Reals, electronic_gear_denominator: Reals, electronic_gear_numerator: Reals, highest_speed: Reals, ratio: Reals
) -> Reals:
    """Pulses a second at the highest speed of the tool."""
    return counts_per_turn * electronic_gear_denominator / electronic_gear_numerator * highest_speed * ratio / (2 * math.pi)


@quantity("rad", symbol="δφ", source="pulses a turn of the tool through the electronic gear", formula="2π·G_n ÷ (N_c·G_d·i)",
          label="Angle of a pulse")
def spindle_angle_per_pulse(
    counts_per_turn: Reals, electronic_gear_denominator: Reals, electronic_gear_numerator: Reals, ratio: Reals
) -> Reals:
    """How far the tool turns for one pulse [rad]."""
    return 2 * math.pi * electronic_gear_numerator / (counts_per_turn * electronic_gear_denominator * ratio)


@quantity("V", symbol="U_c", source="linear between the rows of the measured table", formula="command at ω_c", label="Command"
                                                                                                                     " for the cut")
def command_for_speed(speed_table: SpeedTable, cut_speed: Reals) -> float:
    """Voltage that makes the speed of the cut [V]. Raises NotKnown outside the table."""
    low, high = float(speed_table.speed[0]), float(speed_table.speed[-1])
    if not low <= cut_speed <= high:
        raise NotKnown("the speed of the cut lies outside the measured table")
    return float(np.interp(cut_speed, speed_table.speed, speed_table.command))


@quantity("", symbol="ρ", source="the table against its least-squares line", formula="max |Δω| ÷ max |ω|",
          shown="%", label="Deviation from a straight line")
def command_residual(speed_table: SpeedTable) -> float:
    """Greatest departure in speed from the line through the table, over the greatest speed."""
    line = straight_line(speed_table.command, speed_table.speed)
    return float(np.max(np.abs(speed_table.speed - line.at(speed_table.command))) / np.max(np.abs(speed_table.speed)))
