"""Judgements on a stepper driver's current: against the ratings, how it is entered, its switches, its heat."""

from __future__ import annotations

from urban_mule.core.drive.banks import BankSetting, SwitchBank, listed_rows, missing_rows, set_by_banks
from urban_mule.core.drive.current import way_of_entry
from urban_mule.core.drive.driver_heat import HEAT_GIVENS, CoolingSchool
from urban_mule.core.motor.ways import more_current
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.verdict import Level, Verdict, Way, check
from urban_mule.core.sheet.wording import rounded_down, size

COARSE = 0.08  # of the torque: a setting that loses more of it is coarse
MEASURED_APART = 5.0  # K: less apart, measured and computed are the same to a thermometer held to a fin
WARM_ROOM = 15.0  # K below its limit: nearer than that a driver is too warm for a summer
IS_WORDS = {"rms": "RMS", "peak": "peak"}


def heat_is_asked(solution: Solution) -> bool:
    """Whether anything is said of the driver's heat; of a driver of which nothing is, no more is asked."""
    return any(solution.inputs[name] is not None for name in HEAT_GIVENS)


@check("set current", stage="Drive", main=True)
def current_against_rating(
    current_share: float, current_peak: float, current_rms: float, rated_current_peak: float, current_limit: Reals = None
) -> Verdict:
    """The set current against the motor's rating and the driver's limit, both peak."""
    said = f"{size(current_peak)} A peak, which is {size(current_rms)} A RMS, is {size(100 * current_share)} % of the rating"
    if current_limit is not None and current_peak > current_limit * (1 + 1e-9):
        most = rounded_down(current_limit)
        given = Way(f"set the {size(most)} A that it gives", {"current_peak": most})
        return Verdict("short", f"The driver gives {size(current_limit)} A peak as cooled; {size(current_peak)} A are set.",
                       "Cool the driver better, or take one that gives more.", headroom=0.0, measure=-current_peak, ways=(given,))
    rating = rounded_down(rated_current_peak)
    rated = Way(f"set the rated {size(rating)} A peak", {"current_peak": rating})
    if current_share > 1.1:
        return Verdict("short", f"{said}: peak taken for RMS?", "Check whether the sheet means peak or RMS.",
                       headroom=0.0, measure=-current_share, ways=(rated,))
    if current_share > 1.001:
        return Verdict("tight", f"{said}.", "More than the rating only heats.", headroom=0.2, measure=-current_share, ways=(rated,))
    if current_share < 0.5:
        return Verdict("tight", f"{said}: {size(100 * (1 - current_share))} % of the torque is given away.",
                       "It is right where the motor has torque to spare.", headroom=0.4, measure=current_share,
                       ways=more_current(current_peak, rated_current_peak, current_limit))
    if current_limit is None:
        return Verdict("unknown", f"{said}; what the driver gives at most is not given.", "Look it up in the driver's papers.",
                       missing=("current_limit",))
    return Verdict("good", f"{said}.", "Nothing to do.", headroom=0.8)


@check("current setting", stage="Drive")
def current_is_entered(
    current_peak: float, current_entry: str | None = None, switch_banks: tuple[SwitchBank, ...] | None = None,
    entry_is: str | None = None, current_entry_value: Reals = None, current_as_typed: Reals = None, reference_voltage: Reals = None,
    current_register: Reals = None, current_peak_real: Reals = None, sense_resistance: Reals = None,
    sense_resistance_entered: Reals = None,
) -> Verdict:
    """What to set on the driver so that the current meant flows, in the language that it takes. Raises NotKnown."""
    way = way_of_entry(current_entry, switch_banks)
    if way == "number":
        if entry_is is None:
            return Verdict("unknown", "Whether the driver takes RMS or peak is not given: a factor of 1.41.",
                           "Look it up in the driver's papers; data sheets and settings mix them.", missing=("entry_is",))
        if current_entry_value is None:
            raise NotKnown("the sense resistor that is fitted is not given", "sense_resistance")
        said = f"Type {size(current_entry_value)} A {IS_WORDS[entry_is]}"
        if current_as_typed is not None and abs(current_as_typed / current_peak - 1) > 1e-3:
            factor = current_as_typed / current_peak
            assumed, fitted = (f"{size(1e3 * one)} mΩ" for one in (sense_resistance_entered, sense_resistance))
            return Verdict("tight", f"The settings assume {assumed}, {fitted} are fitted: typed unchanged, {size(factor)} times the"
                           " current flows.",
                           f"{said}, or correct the resistor in the settings.", headroom=0.3)
        return Verdict("good", f"{said}: {size(current_peak)} A peak flows.", "Nothing to do.", headroom=0.9)
    if way == "trimmer":
        if reference_voltage is None:
            raise NotKnown("trimmer gain or sense resistance is not given", *(
                name for name, value in (("sense_resistance", sense_resistance),) if value is None), "trimmer_gain")
        return Verdict("good", f"Turn the trimmer to {size(reference_voltage)} V: {size(current_peak)} A peak flows.",
                       "Nothing to do.", headroom=0.9)
    if current_peak_real is None:
        if way == "switches" and not set_by_banks(switch_banks, "current_peak"):
            raise NotKnown("no bank of switches that set the current is described", "switch_banks")
        if way == "register" and current_register is None and sense_resistance is None:
            raise NotKnown("what the register gives is not known", "full_scale_voltage", "register_steps", "sense_resistance")
        return Verdict("short", f"Every setting of the {way} gives more than the {size(current_peak)} A peak wanted.",
                       "Set more current, or take another driver.", headroom=0.0)
    lost = 1 - current_peak_real / current_peak
    where = "The switches give" if way == "switches" else f"Step {size(current_register)} of the register gives"
    said = f"{where} {size(current_peak_real)} A peak of the {size(current_peak)} A wanted"
    if lost > COARSE:
        return Verdict("tight", f"{said}: {size(100 * lost)} % of the torque is given away.",
                       f"Set {size(current_peak_real)} A, or the next setting above if both are rated for it.", headroom=0.35)
    return Verdict("good", f"{said}.", "Nothing to do.", headroom=0.9)


@check("switches", stage="Drive")
def switches_have_a_row(switch_banks: tuple[SwitchBank, ...] | None = None, bank_settings: tuple[BankSetting, ...] | None = None
                        ) -> Verdict | None:
    """Whether every bank has a position for what is meant, and whether its table is whole."""
    if not switch_banks or bank_settings is None:
        return None
    wrong = [(setting.bank, one) for setting in bank_settings for one in setting.tables if one.row is None]
    if wrong:
        bank, one = wrong[0]
        if one.lacks:
            return Verdict("unknown", f"{bank.name}: {one.why}.", "Give it, then the positions follow.", missing=(one.lacks,))
        return Verdict("short", f"{bank.name}: {one.why}.", "Want what it has a position for, or look the table up again.",
                       headroom=0.0)
    holes = [(bank, missing_rows(table)) for bank in switch_banks for table in bank.tables]
    holes = [(bank, rows) for bank, rows in holes if rows]
    said = "; ".join(f"{setting.bank.name} to {setting.positions}" for setting in bank_settings)
    if holes:
        bank, rows = holes[0]
        return Verdict("tight", f"Set {said}. The table of {bank.name} says nothing of {listed_rows(rows)}.",
                       "Look these rows up, so that a wrong position can be told.", headroom=0.5)
    return Verdict("good", f"Set {said} (1 is on, or fitted).", "Nothing to do.", headroom=0.9)


@check("driver heat", stage="Drive", applies=heat_is_asked)
def driver_stays_cool(
    driver_temperature: float, driver_temperature_limit: float, current_peak: float, driver_current_limit: Reals = None,
    cooled_torque_share: Reals = None, cooling_schools: tuple[CoolingSchool, ...] = (), driver_warming_rise: Reals = None,
    ambient_temperature: Reals = None,
) -> Verdict:
    """How warm the driver gets, by what was measured where that is more; what cooling costs in torque, and what better would"
    " give."""
    measured = None if driver_warming_rise is None or ambient_temperature is None else ambient_temperature + driver_warming_rise
    if measured is not None and measured > driver_temperature + MEASURED_APART:
        room = driver_temperature_limit - measured
        said = (f"The driver really gets to {size(measured)} °C at its fin, not the {size(driver_temperature)} °C computed;"
                f" its limit is {size(driver_temperature_limit)} °C.")
        level: Level = "short" if room < 0 else "tight"
        return Verdict(level, said, "Take the measured thermal resistance over on the Brief, trust, and set the current by it.",
                       headroom=0.0 if room < 0 else min(0.3, 0.3 * room / WARM_ROOM))
    room = driver_temperature_limit - driver_temperature
    said = f"The driver gets to {size(driver_temperature)} °C; its limit is {size(driver_temperature_limit)} °C"
    better = next((f"{one.cooling}, its limit is {size(one.current_limit)} A" for one in cooling_schools
                   if not one.used and one.current_limit >= current_peak), "")
    if room < 0:
        cost = "" if cooled_torque_share is None or cooled_torque_share >= 1 else (
            f", which loses {size(100 * (1 - cooled_torque_share))} % of the motor's torque")
        ways = () if driver_current_limit is None else (
            Way(f"set {size(rounded_down(driver_current_limit))} A peak at most{cost}",
                {"current_peak": rounded_down(driver_current_limit)}),)
        return Verdict("short", f"{said}.", f"Cool it: {better}." if better else "Cool it, or take a larger driver.", headroom=0.0,
                       measure=room, ways=ways)
    if room < WARM_ROOM:
        return Verdict("tight", f"{said}.", f"Cool it better{f': {better}' if better else ''}.", headroom=0.3 * room / WARM_ROOM)
    return Verdict("good", f"{said}.", "Nothing to do.", headroom=min(1.0, 0.3 + room / 100))
