"""Judgements on the train: what turns too fast, buckles, wears, breaks, stretches, slips, falls, or does not match."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import TypeVar

import numpy as np

from urban_mule.core.load.assumed import FRICTION, efficiency_said, support_said
from urban_mule.core.load.cycle import Move, Pieces, gentler, slower
from urban_mule.core.load.fall import BRAKE_FACTOR, brake_needed, is_balanced, rises
from urban_mule.core.load.fellow import Fellow
from urban_mule.core.load.link_loads import LinkLoad
from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown
from urban_mule.core.sheet.solution import Solution
from urban_mule.core.sheet.units import LINEAR_UNITS
from urban_mule.core.sheet.verdict import Verdict, Way, check, listed_names
from urban_mule.core.sheet.wording import at_least, counted, distance, effort, microns, rounded_up, share_of, size
from urban_mule.core.train.belt import LEAST_TEETH_IN_MESH, slack_loss, slack_strand, teeth_in_mesh, tight_strand
from urban_mule.core.train.fold import gains_in_front, self_locking
from urban_mule.core.train.followers import Unlike
from urban_mule.core.train.link import Efficient, Link
from urban_mule.core.train.links import Belt, Coupling, Rack, Reduction, Screw
from urban_mule.core.train.screw import BUCKLING_SHARE, WHIRLING_SHARE, buckling_force, screw_life, whirling_speed
from urban_mule.core.train.stiffness import link_compliances, stays_on_one_flank

HALF_LOST = 0.5  # efficiency below which a train takes more than it passes on
MOST_HOURS = 200_000.0  # twenty years without a pause: longer than a machine lives
LEAST_SCREW_HOURS = 10_000  # five years of one shift: the usual rule of thumb
EASY_SWINGS, FEW_SWINGS = 3.0, 1.0  # swings of the first mode in one speed-up: it hardly shows, it shows
Kind = TypeVar("Kind", bound=Link)


def first_of(train: tuple[Link, ...], kind: type[Kind]) -> tuple[int, Kind]:
    """The first link of a kind and its place in the train. Raises StopIteration where there is none."""
    return next((place, link) for place, link in enumerate(train) if isinstance(link, kind))


def with_link(kind: type[Link], *fields: str) -> Callable[[Solution], bool]:
    """Whether the train has a link of a kind, and these of its fields are given."""
    def applies(solution: Solution) -> bool:
        return any(
            isinstance(link, kind) and all(getattr(link, field) is not None for field in fields)
            for link in solution.get("train", ())
        )

    return applies


@check("train", stage="Load", main=True)
def train_is_known(travel_per_turn: float, load_inertia_at_motor: float, train_efficiency: float, unit: str) -> Verdict:
    """What one turn moves, what the motor has to turn, and how much of its power the train leaves to the load."""
    said = (f"One motor turn moves {distance(travel_per_turn, unit)}; the motor feels {size(load_inertia_at_motor * 1e4)} kg·cm²"
            f" and {size(100 * train_efficiency)} % of its power gets through")
    if train_efficiency < HALF_LOST:
        return Verdict("tight", f"{said}: the train takes most of it.", "A worm or a sliding screw is like that; rolling ones and"
                       " belts are not.", headroom=0.3 * train_efficiency / HALF_LOST)
    return Verdict("good", f"{said}.", "Nothing to do.", headroom=0.9)


HELD_UP = "A gas spring loses its gas, a rope or chain breaks, a counterweight unhooks: look after it"


@check("vertical axis", stage="Load")
def falls_without_power(
    frictionless_static_torque: float, static_torque: float, train: tuple[Link, ...], unit: str,
    gravity_load: float, counterbalance_force: float = 0.0, incline: float = 0.0,
    brake_torque: Reals = None, brake_delay: Reals = None, fall_time: Reals = None, fall_distance: Reals = None,
    travel: Reals = None,
) -> Verdict | None:
    """What happens when power goes: what falls or rises, how far, and what the brake holds with and without friction."""
    needed = frictionless_static_torque
    school = "Brake or not: only what falls needs one. Friction is not counted on; twice the friction-free torque is usual."
    if is_balanced(gravity_load, counterbalance_force):  # else a rounding would ask for a brake
        return balanced(gravity_load + counterbalance_force, counterbalance_force, brake_torque, unit, school)
    up = rises(gravity_load, incline)
    falls, fell = ("Rises", "rises") if up else ("Falls", "falls")
    aids = f" {HELD_UP}." if counterbalance_force and not up else ""
    caution = f"Block the axis before working {'over' if up else 'under'} it.{aids}"
    if np.all(self_locking(train)):
        return Verdict("tight", "The train locks itself, so the load stays when power goes; vibration can release it.",
                       f"Do not count on it for safety. {caution}", school, 0.3)
    holds = f"{at_least(needed)} N·m without friction, {size(static_torque)} N·m with the friction of the train"
    fit = f"Fit a brake of at least {at_least(brake_needed(needed))} N·m"
    lighter = ", or lower the counterbalance until it carries the weight and no more" if up else ""
    if brake_torque is None:
        drop = "" if fall_time is None or travel is None else (
            f" It {fell} its {distance(travel, unit)} in {size(fall_time)} s.")
        why = " upwards" if up else ""
        return Verdict("short", f"{falls}{why} when power goes: a brake must hold {holds}, and none is given.{drop}",
                       f"{fit}{lighter}. {caution}", school, 0.0)
    ratio = brake_torque / needed
    fallen = "" if fall_distance is None else f" It {fell} {distance(fall_distance, unit)} from top speed before it stands."
    pulls = "the counterbalance" if up else "gravity"
    said = f"The brake holds {size(ratio)} times what {pulls} puts on it ({holds}).{fallen}"
    if fall_distance is not None and travel is not None and fall_distance > travel:
        return Verdict("short", said, f"It is through its travel before the brake has stopped it: a faster brake. {caution}",
                       school, 0.0)
    if ratio < BRAKE_FACTOR * (1 - 1e-9):
        return Verdict("tight" if ratio >= 1 else "short", said, f"{fit}{lighter}. {caution}", school, share_of(ratio, 1, 2))
    if fall_distance is None or travel is None:
        lacks = ("brake_delay",) if fall_distance is None and brake_delay is None else ("travel",) if travel is None else ()
        return Verdict("unknown", f"{said} Whether it stands within its travel is not known.", f"Brake delay, rotor, load, cycle"
                       f" and travel say it. {caution}", school, missing=lacks)
    return Verdict("good", said, caution, school, share_of(ratio, 1, 2))


def balanced(weight: float, counterbalance: float, brake_torque: Reals, unit: str, school: str) -> Verdict | None:
    """What is to be said of an axis that nothing pulls: a level one, or one whose weight [N or N·m] a counterbalance carries."""
    kept = "" if brake_torque is None else f"; the brake of {size(brake_torque)} N·m only keeps the axis from being pushed"
    if counterbalance == 0:
        return None if not kept else Verdict("good", f"Nothing falls when power goes{kept}.", "Nothing to do.", school, 0.9)
    return Verdict("tight", f"The counterbalance carries the weight, so nothing falls when power goes{kept}; without it"
                   f" {effort(abs(weight), unit)} fall.",
                   f"{HELD_UP}, and block the axis before working under it. A counterweight's mass is moved too: give it.",
                   school, 0.4)


@check("assumptions", stage="Load", applies=lambda solution: solution.get("peak_load") is not None)
def taken_as_ideal(
    train: tuple[Link, ...], friction_counted_on: str, assumed: tuple[str, ...] | None = None
) -> Verdict | None:
    """How much is calculated without losses because nobody has said them, or with usual values that nobody has read off."""
    unsaid = assumed or ()
    efficient = [link for place, link in enumerate(train)
                 if isinstance(link, Efficient) and f"train[{place}].efficiency" in unsaid]
    ideal = [efficiency_said(link) for link in efficient if link.efficiency == 1]
    usual = [efficiency_said(link) for link in efficient if link.efficiency < 1]
    usual += [support_said(link) for place, link in enumerate(train)
              if isinstance(link, Screw) and f"train[{place}].end_support" in unsaid]
    if FRICTION in unsaid:
        (ideal if "without" in friction_counted_on else usual).append(friction_counted_on)
    if not ideal and not usual:
        return None
    if not ideal:
        many = counted(len(usual), "usual value stands", "usual values stand")
        return Verdict("good", f"{many} for what nobody has read off yet: {listed_names(usual)}.",
                       "Type what the data sheets say over them, here on Load.", headroom=0.7)
    many = "1 value is" if len(ideal) == 1 else f"{len(ideal)} values are"
    return Verdict("tight", f"{many} assumed ideal: {listed_names(ideal)}.", "Give them, or take usual values on the Load stage;"
                   " real losses cost torque.", headroom=0.6)


@check("follower", stage="Load")
def follower_matches(
    motor_count: float, follower_differences: tuple[Unlike, ...] | None = None, fellow: Fellow | None = None
) -> Verdict | None:
    """Whether the second motor of a beam, or of a pair of axes, is entered as the first."""
    if fellow is not None:
        return _pair_matches(fellow, follower_differences)
    if motor_count < 2:
        return None
    share = f"{motor_count:g} motors share the load, each carries 1/{motor_count:g} of it"
    if not follower_differences:
        return Verdict("good", f"{share}; the follower is as its leader.", "Nothing to do.", headroom=0.9)
    named = ", ".join(map(str, follower_differences[:3]))
    more = len(follower_differences) - 3
    return Verdict("short", f"The follower does not match its leader: {named}{f' and {more} more' if more > 0 else ''}.",
                   "Make both alike before power comes on: a beam driven unevenly racks and jams.", headroom=0.0)


def _pair_matches(fellow: Fellow, differences: tuple[Unlike, ...] | None) -> Verdict:
    """Whether both motors of a pair are entered and set alike."""
    if not differences:
        return Verdict("good", f"Its motor and that of {fellow.name} move both axes; what is entered of them is alike.",
                       "Nothing to do.", headroom=0.9)
    named = ", ".join(map(str, differences[:3]))
    more = len(differences) - 3
    return Verdict("short", f"{fellow.name} does not match this axis: {named}{f' and {more} more' if more > 0 else ''}.",
                   "Make both alike before power comes on: with unlike motors, steps or belts each move along one axis goes askew.",
                   headroom=0.0)


def against_rating(what: str, rated: float, asked: float, could: float | None, unit: str) -> Verdict:
    """A rating against what the cycle asks and against what the motor could give when it stalls. Torques [N·m] or forces [N]."""
    most, said = asked if could is None else max(asked, could), f"The {what} is rated for {size(rated)} {unit}"
    if rated < asked:
        return Verdict("short", f"{said}, the cycle asks {size(asked)} {unit}.",
                       f"Fit a larger {what}.", headroom=0.0)
    if rated < most:
        return Verdict("tight", f"{said}; the motor could give {size(most)} {unit} in a stall.",
                       f"Fit a larger {what}, or limit what the motor gives.", headroom=0.2)
    if could is None:
        return Verdict("unknown", f"{said}, the cycle asks {size(asked)} {unit}; what the motor could give in a stall is not"
                       " known.", "Choose the motor on the Motor stage.")
    return Verdict("good", f"{said}, more than the {size(most)} {unit} that the motor can give there.", "Nothing to do.",
                   headroom=share_of(rated / most, 1, 1.5))


def tightest_rating(train: tuple[Link, ...], link_loads: tuple[LinkLoad, ...], kind: type[Link], at_output: bool) -> Verdict:
    """The rated links of a kind against what passes through them; the tightest decides."""
    found = []
    for link, load in zip(train, link_loads, strict=True):
        rated = getattr(link, "rated_torque", None)
        if isinstance(link, kind) and rated is not None:
            asked = load.effort_out if at_output else load.torque_in
            found.append(against_rating(link.kind, rated, asked, load.stall_effort, "N·m"))
    return min(found, key=lambda verdict: verdict.headroom or 0.0)


@check("coupling", stage="Load", applies=with_link(Coupling, "rated_torque"))
def coupling_rating(train: tuple[Link, ...], link_loads: tuple[LinkLoad, ...]) -> Verdict:
    """The coupling against the peak torque and against what the motor could give."""
    return tightest_rating(train, link_loads, Coupling, at_output=False)


@check("reduction rating", stage="Load", applies=with_link(Reduction, "rated_torque"))
def reduction_rating(train: tuple[Link, ...], link_loads: tuple[LinkLoad, ...]) -> Verdict:
    """The output of a reduction or worm against the cycle and against a stall."""
    return tightest_rating(train, link_loads, Reduction, at_output=True)


@check("pinion rating", stage="Load", applies=with_link(Rack, "rated_force"))
def pinion_rating(train: tuple[Link, ...], link_loads: tuple[LinkLoad, ...]) -> Verdict:
    """The teeth of the pinion against the cycle and against a stall."""
    place, found = first_of(train, Rack)
    load = link_loads[place]
    return against_rating("pinion", float(found.rated_force), load.effort_out, load.stall_effort, "N")


def against_limit(said: str, share: float, beyond: str, near: str, ways: tuple[Way, ...] = ()) -> Verdict:
    """A share of a limit that already holds its reserve; beyond and near: the next steps; ways: those that can be tried.

    share: [1].
    """
    if share > 1:
        return Verdict("short", said, beyond, headroom=0.0, measure=-share, ways=ways)
    if share > 0.8:
        return Verdict("tight", said, near, headroom=1 - share)
    return Verdict("good", said, "Nothing to do.", headroom=1 - share)


def held_screw(train: tuple[Link, ...]) -> tuple[int, Screw]:
    """The first screw and its place. Raises NotKnown where nobody said how its ends are held."""
    place, found = first_of(train, Screw)
    if found.end_support is None:
        raise NotKnown("how the ends of the screw are held is not given", "train.screw.end_support")
    return place, found


@check("screw whirling", stage="Load", applies=with_link(Screw))
def screw_whirl(train: tuple[Link, ...], peak_speed: float, cycle: tuple[Move, ...]) -> Verdict:
    """The screw's speed against 80 % of its first whirling speed."""
    place, found = held_screw(train)
    turning = peak_speed * gains_in_front(train)[place]
    share = turning / (WHIRLING_SHARE * whirling_speed(found))
    said = f"The screw turns at {size(100 * share)} % of the speed it may (80 % of whirling)."
    return against_limit(said, share, "A thicker or better held screw turns faster.", "Keep the speed.", (slower(cycle),))


@check("screw buckling", stage="Load", applies=with_link(Screw))
def screw_buckling(train: tuple[Link, ...], peak_load: float) -> Verdict:
    """The greatest axial force against half of Euler's load."""
    _, found = held_screw(train)
    share = peak_load / (BUCKLING_SHARE * buckling_force(found))
    said = f"The screw is pushed with {size(peak_load)} N, {size(100 * share)} % of its limit (half of buckling)."
    return against_limit(said, share, "Take a thicker, shorter or better held screw.", "Add no load.")


@check("screw life", stage="Load", applies=with_link(Screw, "dynamic_load_rating"))
def screw_wear(
    train: tuple[Link, ...], cubic_mean_load: float, cycle_pieces: Pieces, cycle_duration: float, travel_per_radian: float
) -> Verdict:
    """Hours of this cycle that nine of ten screws outlive."""
    place, found = first_of(train, Screw)
    way = float(np.sum(np.abs(cycle_pieces.distance) * cycle_pieces.times))
    turns = way / (2 * np.pi * travel_per_radian) * gains_in_front(train)[place]
    hours = screw_life(found, cubic_mean_load) / turns * cycle_duration / 3600
    lived = f"{size(hours)} hours of this cycle" if hours < MOST_HOURS else f"the machine: more than {size(MOST_HOURS)} hours of it"
    said = f"Nine of ten such screws outlive {lived}"
    if hours < LEAST_SCREW_HOURS:
        return Verdict("tight", f"{said}.", f"{size(LEAST_SCREW_HOURS)} hours are usual: take a larger screw.", headroom=0.15)
    return Verdict("good", f"{said}.", "Nothing to do.", headroom=0.8)


@check("screw lead", stage="Load", applies=with_link(Screw, "lead", "thread_pitch"))
def lead_and_starts(train: tuple[Link, ...]) -> Verdict | None:
    """Whether lead, pitch and starts of a screw agree."""
    _, found = first_of(train, Screw)
    made = found.thread_pitch * found.starts
    if abs(made / found.lead - 1) < 1e-3:
        return None
    return Verdict("short", f"A pitch of {size(found.thread_pitch * 1e3)} mm with {found.starts:g} starts makes a lead of"
                   f" {size(made * 1e3)} mm; {size(found.lead * 1e3)} mm is given and used.",
                   "Turn the screw once and measure: lead is pitch times starts.", headroom=0.0)


@check("belt tension", stage="Load", applies=with_link(Belt, "pretension"))
def belt_pull(train: tuple[Link, ...], peak_load: float, cycle: tuple[Move, ...], travel: Reals = None) -> Verdict:
    """The tight strand against the rating, the slack strand against hanging loose."""
    _, found = first_of(train, Belt)
    nearest = 0.0 if travel is None or found.span is None else max(0.0, (found.span - travel) / 2)
    loss = slack_loss(found, peak_load, nearest)
    slack, tight, rated = slack_strand(found, peak_load, nearest), tight_strand(found, peak_load), found.rated_force
    where = (f"within {size(1e3 * nearest)} mm of the driving pulley, the travel lying in the middle of the belt" if nearest
             else "right at the driving pulley")
    school = f"The strands share the load by their lengths; it is taken {where}, and whole on top of the pretension: the safe side."
    if slack < 0:
        pull = rounded_up(1.1 * loss)
        tighter = tuple(replace(link, pretension=pull) if link is found else link for link in train)
        return Verdict("short", f"At {size(peak_load)} N the slack strand hangs loose: it loses {size(loss)} N of its"
                       f" {size(found.pretension)} N.", "", school, 0.0, measure=slack,
                       ways=(Way(f"tension the belt to {size(pull)} N in each strand", {"train": tighter}), gentler(cycle)),
                       otherwise="Take a wider belt: this one may not be tensioned as far as its load asks.")
    if rated is not None and tight > rated:
        return Verdict("short", f"The belt is pulled with {size(tight)} N and may carry {size(rated)} N.",
                       "A wider belt carries it.", school, 0.0, measure=rated - tight, ways=(gentler(cycle),))
    if rated is None:
        return Verdict("unknown", f"The belt is pulled with {size(tight)} N at most and {size(slack)} N at least; what it may carry"
                       " is not given.", "Rated force: the pull that the belt may carry.", school, missing=("train",),
                       measure=slack)
    share = tight / rated
    said = f"The belt is pulled with {size(tight)} N, {size(100 * share)} % of what it may."
    return Verdict("good" if share < 0.8 else "tight", said, "Nothing to do." if share < 0.8 else "Add no load.", school, 1 - share)


@check("belt stretch", stage="Load", applies=with_link(Belt, "specific_stiffness", "span"))
def belt_stretch(train: tuple[Link, ...], peak_load: float, unit: str, accuracy_wanted: Reals = None) -> Verdict:
    """How far the belt gives way at the hardest moment."""
    _, found = first_of(train, Belt)
    stretch = peak_load / float(found.stiffness_at_output or 0.0)
    said = f"The belt stretches {microns(stretch, unit)} at the hardest moment"
    if accuracy_wanted is None:
        return Verdict("unknown", f"{said}; the accuracy wanted is not given.", "It says whether that matters.",
                       missing=("accuracy_wanted",))
    if stretch > accuracy_wanted:
        return Verdict("tight", f"{said}, {size(stretch / accuracy_wanted)} times the accuracy wanted: it must settle first.",
                       "Dwell before the work, or take a wider or shorter belt.", measure=-stretch,
                       headroom=0.3 * accuracy_wanted / stretch)
    return Verdict("good", f"{said}, {size(100 * stretch / accuracy_wanted)} % of the accuracy wanted; it is back when at rest.",
                   "Nothing to do.", headroom=float(np.clip(1 - 0.7 * stretch / accuracy_wanted, 0.3, 1.0)))


@check("teeth in mesh", stage="Load", applies=with_link(Belt, "teeth"))
def belt_teeth(train: tuple[Link, ...]) -> Verdict:
    """Teeth that share the pull on the driving pulley."""
    _, found = first_of(train, Belt)
    meshing = float(teeth_in_mesh(found))
    school = f"Below {LEAST_TEETH_IN_MESH} teeth belts are derated: the common rule of thumb."
    said = f"{size(meshing)} teeth of the driving pulley are in mesh"
    if meshing < LEAST_TEETH_IN_MESH:
        return Verdict("tight", f"{said}, fewer than {LEAST_TEETH_IN_MESH}.",
                       "Take a larger pulley, or guide the belt further round.", school, 0.2)
    return Verdict("good", f"{said}.", "Nothing to do.", school, share_of(meshing, 4, 8))


def gives_way(solution: Solution) -> bool:
    """Whether anything is said of how far the train gives way; most who begin do not know it, and that is no fault."""
    return solution.get("predicted_lost_motion") is not None


@check("stiffness", stage="Load", applies=lambda solution: solution.get("train_stiffness") is not None)
def stiff_enough(
    train: tuple[Link, ...], first_axial_mode: float, train_stiffness: float, shortest_speed_up: float, unit: str,
    first_resonance: Reals = None, rotor_compliance_share: Reals = None, resonance_levers: dict[str, float] | None = None,
) -> Verdict:
    """The first resonance against how long a speed-up lasts, which spring is softest, and what would move it."""
    compliances = link_compliances(train)
    known = [(float(c), link.kind) for c, link in zip(compliances, train, strict=True) if c is not None]
    softest = max(known)[1] if known else "train"
    rigid = [link.kind for c, link in zip(compliances, train, strict=True) if c is None and link.kind != "direct"]
    per = f"{size(train_stiffness * 1e-6)} N/µm" if unit in LINEAR_UNITS else f"{size(train_stiffness)} N·m/rad"
    slowest = first_axial_mode if first_resonance is None else first_resonance
    swings = slowest * shortest_speed_up
    whole = "" if rotor_compliance_share is None else " and the motor's field"
    said = f"The load swings on its train{whole} at {size(slowest)} Hz; the quickest speed-up lasts {size(swings)} of its swings"
    soft = f"the {softest} is softest" if known else "as measured"
    school = (f"{per}, {soft}{', taken as rigid: ' + ', '.join(rigid) if rigid and known else ''}."
              " Three swings in a speed-up hardly show; below one the move itself rings.")
    if rotor_compliance_share is not None and resonance_levers is not None:
        current, train_ = (size(resonance_levers[name]) for name in ("current", "train"))
        school += (f" The field is {size(100 * rotor_compliance_share)} % of what gives way: a quarter more current moves the mode"
                   f" to {current} Hz, a train twice as stiff to {train_} Hz.")
    if swings >= EASY_SWINGS and known and rigid:
        return Verdict("tight", f"{said}, with {listed_names(rigid)} taken as rigid.", "Give its stiffness: a real one swings"
                       " slower.", school, 0.35)
    if swings >= EASY_SWINGS:
        return Verdict("good", f"{said}.", "Nothing to do.", school, share_of(swings, 1, EASY_SWINGS))
    return Verdict("tight", f"{said}.", f"Stiffen the {softest}, limit the jerk, or shape the command on the Ring stage.",
                   school, 0.35 if swings >= FEW_SWINGS else 0.1)


@check("lost motion", stage="Load", applies=gives_way)
def lost_motion_expected(
    predicted_lost_motion: float, train_clearance: float, gravity_load: float, friction_load: float, unit: str,
    accuracy_wanted: Reals = None, train_stiffness: Reals = None,
) -> Verdict:
    """Lost motion to expect from stiffness, friction and clearance, against the accuracy wanted."""
    one_sided = stays_on_one_flank(gravity_load, friction_load)
    wound = predicted_lost_motion - (0.0 if one_sided else train_clearance)
    spring = (f"{microns(wound, unit)} wound up by friction," if train_stiffness is not None else
              "what friction winds up is not known without a stiffness;")
    said = (f"Expect {microns(predicted_lost_motion, unit)} lost at a reversal: {spring}"
            + (f" none from the {microns(train_clearance, unit)} of clearance, for the weight keeps the flanks together"
               if one_sided else f" {microns(train_clearance, unit)} clearance"))
    if accuracy_wanted is None:
        return Verdict("unknown", f"{said}; the accuracy wanted is not given.", "It says whether that matters.",
                       missing=("accuracy_wanted",))
    share = predicted_lost_motion / accuracy_wanted
    told = f"{said}; {size(100 * share)} % of the accuracy wanted."
    if share > 1:
        return Verdict("short", told, "Less friction, a stiffer train, or less clearance; measuring shows which.", headroom=0.0)
    if share > 1 / 3:
        return Verdict("tight", told, "Measure it on the Slack stage and compensate.", headroom=(1 - share) / 2)
    if train_stiffness is None and friction_load != 0:
        return Verdict("unknown", told, "Give the stiffness of its links on Load; friction winds them up.", missing=("train",))
    return Verdict("good", told, "Nothing to do.", headroom=1 - share)
