"""Where lost motion of a train comes from, likeliest first: how each cause is told from the others, and what mends it."""

from __future__ import annotations

from urban_mule.core.sheet.quantity import quantity
from urban_mule.core.sheet.record import record
from urban_mule.core.train.link import Link
from urban_mule.core.train.links import Belt, Coupling, FeedRoller, Rack, Reduction, Screw, Worm


@record(frozen=True, eq=False, repr=False)
class Repair:
    """A cause of lost motion: the part, how it is told, what mends it, where it sits: a kind of link, carriage or gauge."""

    part: str
    tell: str
    mend: str
    place: str


OF_RACK = (
    Repair("pinion on the rack", "Power off, rock the pinion by hand. Play that is the same everywhere is a worn pinion, at one"
           " place a worn rack.", "Clean both, let the spring press it in; a worn pinion is replaced on schedule.", "rack"),
    Repair("set screw of the pinion", "Mark shaft and pinion with one stroke; after a day's work the stroke is broken.",
           "Set screw on the flat, a second one, thread lock.", "rack"))
OF_SCREW = (
    Repair("preload nut of the thrust bearing", "Indicator on the end of the screw: it moves along when the carriage is pushed.",
           "Turn the nut the way that loads the bearing and lock it; the wrong way round it works loose. The shaft drags slightly"
           " and stays smooth; roughness under the hand is too much.", "screw"),
    Repair("nut of the screw", "The end of the screw stands still while the carriage moves: the play is in the nut.",
           "Preload the nut or put larger balls in; a worn nut is replaced.", "screw"))
OF_BELT = (
    Repair("tension of the belt", "Pluck the span: a low tone. Lost motion that grows with the push is a slack belt.",
           "Tighten until the tone is right, both belts of a pair alike.", "belt"),
    Repair("pulley on its shaft", "Mark shaft and pulley with one stroke; it breaks when the pulley slips.",
           "Set screw on the flat, or a clamping hub.", "belt"))
OF_FEED_ROLLER = (
    Repair("pressure of the roller", "Mark stock and roller with one stroke and start hard: the marks part where it slips.",
           "Press harder, or start more gently; a ribbed or softer roller. Too much pressure flattens the stock.", "feed roller"),
    Repair("wear of the roller", "Feed a metre ten times and measure: always short by the same share is a smaller roller.",
           "Correct the steps by what came out; replace a roller that has a groove.", "feed roller"))
OF_COUPLING = (Repair("coupling", "Hold the motor's shaft and turn the other end: play or a crack shows at once.",
                      "Tighten both clamps; a split or worn insert is replaced.", "coupling"),)
OF_WORM = (Repair("mesh of the worm", "Rock the wheel with the worm held; the play differs around the wheel where it is worn.",
                  "Set the worm nearer at the tightest place, never at the loosest.", "worm"),)
OF_REDUCTION = (Repair("reduction", "Hold its input and rock its output; the play is its own, or its spline's.",
                       "Adjust its bearing or its mesh; a worn one is replaced.", "reduction"),)
ALWAYS = (Repair("carriage on its guide", "Indicator beside the carriage: it tilts or jumps when pushed across.",
                 "Set the guide's preload; tighten the carriage's screws crosswise.", "carriage"),
          Repair("mount of the gauge", "Push on the stand itself: what the gauge shows then is no backlash.",
                 "Shorten the arm, clamp it to the table, measure again.", "gauge"))
BY_LINK: tuple[tuple[type[Link], tuple[Repair, ...]], ...] = (
    (FeedRoller, OF_FEED_ROLLER), (Rack, OF_RACK),
    (Screw, OF_SCREW), (Belt, OF_BELT), (Worm, OF_WORM), (Reduction, OF_REDUCTION), (Coupling, OF_COUPLING))


@quantity("", symbol="", source="practice of machine building: what wears first, next to the load first", structure=True,
          formula="by the links of the train")
def slack_repairs(train: tuple[Link, ...]) -> tuple[Repair, ...]:
    """What may have play in this train, likeliest first."""
    found: list[Repair] = []
    for kind, repairs in BY_LINK:
        if any(isinstance(link, kind) and not (kind is Reduction and isinstance(link, Worm)) for link in train):
            found += repairs
    return (*found, *ALWAYS)
