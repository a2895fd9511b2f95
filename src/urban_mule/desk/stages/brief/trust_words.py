"""What the leaf trust says: pairs, suspects, what was learnt, what is worth measuring."""

from __future__ import annotations

from typing import Any

from urban_mule.core.ring.train_hump import OTHER_CURRENT, OTHER_LOAD
from urban_mule.core.sheet.given import in_a_sentence
from urban_mule.core.sheet.shown import in_unit, value_text
from urban_mule.core.sheet.units import FACTORS, number_text, unit_shown, with_doubt
from urban_mule.core.sheet.verdict import listed
from urban_mule.core.studies.compared import Compared
from urban_mule.core.studies.learning import Learning, Learnt
from urban_mule.core.studies.next_reading import NextReading
from urban_mule.core.studies.suspects import Suspect, was
from urban_mule.store.learning import Teaching
from urban_mule.store.state.axis_state import AxisState

SHARES = ("torque_share_held", "scale_ratio")
NEARLY = 1e-3  # share within which a scale is told by how far off it is
AGAIN = "Measured again, and it is so? Then it counts, and is learnt from."
TEACH, NOTHING_NEW = "What the readings teach", "Nothing new to learn from the readings"
KEEP = "Friction, stiffness and efficiency as learnt here may be offered as usual values on the next machine."
GOALS = {"working_margin": "the torque margin", "expected_lost_motion": "the lost motion"}


def headline(compared: tuple[Compared, ...]) -> str:
    """How many pairs agree; nothing where there are none."""
    judged = [one for one in compared if one.judgement != "unassigned"]
    if not judged:
        return ""
    good, against = (sum(one.judgement == which for one in judged) for which in ("agrees", "contradicts"))
    said = f"{good} of {len(judged)} agree: computed and measured"
    return f"{said}; {against} contradict{'s' if against == 1 else ''}." if against else f"{said}."


def how(teaching: Teaching | None) -> str:
    """How the picture is read."""
    if teaching is None or not teaching.learning.compared:
        return ""
    return "Pale band: computed. Stroke: measured. Both with their ± (k = 2)."


def _number(value: float, standard: float, name: str, state: AxisState) -> str:
    if name == "scale_ratio" and abs(value - 1) < NEARLY:
        return f"{with_doubt(1e6 * (value - 1), 1e6 * standard)} ppm off"
    if name in SHARES:
        return f"{with_doubt(100 * value, 100 * standard)} %"
    unit = value_text(state.sheet, name, value, state.system).unit
    return f"{with_doubt(*(in_unit(number, state.sheet, name, unit) for number in (value, standard)))} {unit}".strip()


def told(one: Compared, state: AxisState) -> str:
    """Computed and measured, in words."""
    measured = _number(one.measured, one.uncertainty, one.pair.shown_as, state)
    if one.judgement == "unassigned":
        return f"measured {measured}"
    return f"computed {_number(one.computed, one.computed_uncertainty, one.pair.shown_as, state)}, measured {measured}"


def judged(one: Compared, state: AxisState) -> str:
    """What the pair says."""
    if one.judgement == "unassigned":
        do = OTHER_LOAD if state.axis.motor_kind == "servo" else OTHER_CURRENT
        return f"None of these humps can be told to be the train's. {do}"
    far = f"{number_text(abs(one.departure), 2)} standard uncertainties of both together apart"
    said = {"agrees": "They agree", "strained": f"Farther apart than is usual: {far}",
            "contradicts": f"They contradict each other: {far}"}[one.judgement]
    if one.pair.from_below and one.judgement == "agrees" and one.departure <= 0:
        said += "; what is measured is a lower bound"
    if one.taught:
        return f"{said}. Already learnt from."
    if one.judgement == "contradicts":
        return f"{said}. " + ("Looked at again: it counts." if one.teaches else "Nothing is learnt from it.")
    return f"{said}."


def given_text(label: str, value: Any, standard: float, state: AxisState) -> str:
    """A value of a given as its field shows it, with how sure it is."""
    if isinstance(value, str):
        return value.replace("_", " ")
    one = state.solution.given_of(label)[0]
    unit = one.unit
    for placeholder, real in state.sheet.units.items():
        unit = unit.replace(placeholder, real)
    shown = unit_shown(unit, state.system, one.shown)
    times = FACTORS.get(unit, 1.0) / FACTORS.get(shown, 1.0)
    return f"{with_doubt(value * times, standard * times)} {shown}".strip()


def suspected(one: Suspect, learning: Learning, state: AxisState) -> str:
    """What is suspected, what it would be, and where to look."""
    if one.otherwise is not None:
        return f"{one.otherwise.words[:1].upper()}{one.otherwise.words[1:]}. {one.otherwise.look}"
    entered = given_text(one.label, was(learning, one.label), 0.0, state)
    return f"{state.solution.label(one.label)}: {given_text(one.label, one.value, 0.0, state)} instead of {entered}."


def weight(one: Learnt) -> float:
    """By how many standard uncertainties an input moved, and by what share it is surer."""
    return abs(one.learned_value - one.value) / one.uncertainty + max(0.0, 1 - one.learned_uncertainty / one.uncertainty)


def by_weight(learning: Learning) -> tuple[Learnt, ...]:
    """What was learnt, what it moves or makes surer most first."""
    return tuple(sorted(learning.learned, key=weight, reverse=True))


def hardly(rest: tuple[Learnt, ...], state: AxisState) -> str:
    """What hardly changed."""
    return f"Hardly changed: {listed([state.solution.label(one.label) for one in rest], 5)}."


def learnt(one: Learnt, state: AxisState) -> str:
    """An input before and after."""
    before, after = (given_text(one.label, *pair, state) for pair in (
        (one.value, one.uncertainty), (one.learned_value, one.learned_uncertainty)))
    number, _, unit = before.rpartition(" ")
    return f"{number} → {after}" if after.endswith(f" {unit}") and "±" in number else f"{before} → {after}"


def take_words(count: int) -> str:
    """On the key that takes over what was learnt."""
    return "Use this value" if count == 1 else f"Use these {count} values"


def kept(count: int) -> str:
    """What became of keeping."""
    said, it = ("1 value is", "it") if count == 1 else (f"{count} values are", "them")
    return f"{said} kept: Load and the new axis offer {it} as usual."


def left_words(teaching: Teaching, state: AxisState) -> str:
    """What of a former belief counts no more."""
    labels = [state.solution.label(name) if state.solution.knows(name) else name for name in (
        one.rpartition(".")[2] if "[" not in one else one for one in teaching.left)]
    return f"Learnt before, and set otherwise since, so that it does not count any more: {listed(labels)}."


def worth(one: NextReading, taken: str, goal: str, state: AxisState) -> str:
    """What a reading would teach, and how long it takes."""
    return (f"{taken[:1].upper()}{taken[1:]}: {number_text(one.minutes, 2)} minutes, and would take away"
            f" {number_text(100 * one.share, 2)} % of the doubt (variance) about {GOALS[goal]}.")


def nothing_cheap(teaching: Teaching, state: AxisState) -> str:
    """That no quick reading helps, and whose figure would."""
    learning, goal = teaching.learning, teaching.goal or ""
    _, slopes = learning.moved.slopes((goal,))[goal]
    parts = slopes * (learning.covariance @ slopes)
    if not parts.size or parts.max() <= 0:
        return "No quick measurement would make the goals surer."
    label = state.solution.label(learning.moved.inputs[int(parts.argmax())].label)
    return (f"No quick measurement would make {GOALS[goal]} much surer. What would is a better figure for: {in_a_sentence(label)}.")


def booked(learning: Learning, state: AxisState) -> str:
    """The line of the log about what was learnt."""
    used = listed([one.pair.words for one in learning.compared if one.teaches])
    values = "; ".join(f"{in_a_sentence(state.solution.label(one.label))} {learnt(one, state)}" for one in by_weight(learning)[:4])
    return f"Learnt from {used}: {values}."


def run_not_on_record() -> str:
    """Why two runs cannot be compared."""
    return ("Accuracy of the next run: nothing to compare. Set a correction on the tag, or write the table, between two dated runs:"
            " then what was promised is held against what came.")


def run_mended() -> str:
    """Why two runs are not compared."""
    return "Accuracy of the next run: something was repaired between the last two runs, so that there is nothing to compare."


def run_told(way: str, promised: float | None, measured: float, u: float, state: AxisState) -> str:
    """What the run before promised, and what came."""
    came = _number(measured, u, "positioning_accuracy", state)
    if promised is None:
        return f"Accuracy of the next run, {way}: {came}; nothing was promised of that together."
    return f"Accuracy of the next run, {way}: promised {_number(promised, u, 'positioning_accuracy', state)}, measured {came}."
