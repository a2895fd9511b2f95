"""What the wall gives, and the supply that hangs on it and feeds the axes."""

from __future__ import annotations

from urban_mule.core.sheet.given import Reals, given

SUPPLY_KINDS = ("linear", "switching")


class Mains:
    """What the user knows of the shop's circuit."""

    mains_voltage: Reals = given("V", "V_m", "voltage of the circuit", above=0)
    circuit_rating: Reals = given("A", "I_m", "rating of the circuit", above=0)
    continuous_share: Reals = given("", "c_m", "share of the rating that may be drawn for hours; local code decides", default=0.8,
        above=0, most=1, shown="%", label="Share that may be drawn for hours")


class Supply:
    """What the user knows of the supply that the axes share."""

    supply_kind: str | None = given("", "", "linear with its capacitor, or switching", choices=SUPPLY_KINDS, label="Kind of supply")
    supply_voltage: Reals = given("V", "V_s", "voltage of the supply that the axes share", above=0)
    supply_power: Reals = given("W", "P_s", "power that the supply is rated for", above=0)
    supply_capacitance: Reals = given("F", "C", "capacitor on the motor side of the supply", above=0, shown="mF",
        label="Supply capacitance")
    supply_efficiency: Reals = given("", "η_s", "share of what it draws that reaches the axes", above=0, most=1, shown="%",
        label="Supply efficiency")
    power_factor: Reals = given("", "λ", "power drawn over voltage times current", above=0, most=1)
    standing_load: Reals = given("W", "P_st", "what fans, relays and logic take from it all the time", default=0.0, least=0)
    driver_efficiency: Reals = given("", "η_d", "share of what a driver draws that reaches the shaft and the winding", default=0.9,
        above=0, most=1, shown="%")
    phase_current_factor: Reals = given("", "f_ph", "share of the phase currents that the supply sees, in the first approach",
        default=2 / 3, above=0, shown="%", label="Share of the phase currents")
    supply_headroom: Reals = given("", "f_h", "what the supply is taken larger by", default=1.25, least=1, label="Reserve")
    total_pulse_rate_limit: Reals = given("Hz", "f_tot", "most pulses a second of all axes together", above=0, shown="kHz",
        label="Highest step rate of all axes")
    shared_pulses: bool | None = given("", "", "whether all axes hang on one pulse generator, which has one timing",
        choices=(True, False), label="Shared pulse generator")
