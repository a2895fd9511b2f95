"""The plans that measure two axes at once, and what they share with those of one."""

from __future__ import annotations

from urban_mule.bench.sessions.by_two import (
    BARS,
    SECOND,
    columns_along,
    columns_circle,
    columns_diagonals,
    settings_along,
    settings_circle,
    settings_diagonals,
    settings_square,
    steps_circle,
    steps_diagonals,
    steps_square,
    steps_straightness,
)
from urban_mule.bench.sessions.rounds import PlanKind
from urban_mule.core.sheet.given import Given

LENGTH = ("µm", "°")
REPEATS = Given("repeats", "", "", "how often each is taken", whole=True, least=1, most=50, label="Repeats")
TARGETS = Given("targets", "", "", "places, [place], apart by spaces", label="Targets")
HAND = "A hand on the stop that removes the power."
GOES = f"It moves: nobody between carriage and end. {HAND}"
BOTH_GO = f"Two axes move: nobody in their way, hands off before each move. {HAND}"
OTHER_AXIS = Given(SECOND, "", "", "the other axis of the two", label="Other axis")
PAIR_PLANS = (
    PlanKind(
        kind="circle",
        setup="",
        where="A bar of known length on two pivots, one on the table and one on the carriage; or a dial on an arm that turns.",
        tells="what of two axes together is scale, squareness, play, and what is left",
        unit="m",
        reads=LENGTH,
        settings=settings_circle,
        steps=steps_circle,
        columns=columns_circle,
        givens=(
            OTHER_AXIS,
            Given("radius", "", "", "radius as commanded, [place]", label="Radius"),
            Given("centre", "", "", "centre, of the first and of the other axis, [place]", label="Centre"),
            Given("every", "°", "", "how far apart the angles are", label="An angle every"),
            Given("by", "", "", "a bar on two pivots, or a dial on a turning arm", choices=BARS, label="Read by"),
        ),
        deviations=True, moves=True, caution=BOTH_GO, pair=True, words="a circle of two axes", called="circle",
    ),
    PlanKind(
        kind="diagonals",
        setup="scale",
        where="A plate lies fixed on the table; a fine point on the carriage marks its corners; a scale measures between them.",
        tells="how far two axes are out of square; sides as three to four make a diagonal of five",
        unit="m",
        reads=("mm", "mm"),
        settings=settings_diagonals,
        steps=steps_diagonals,
        columns=columns_diagonals,
        givens=(OTHER_AXIS, REPEATS,
                Given("sides", "", "", "along the first and along the other axis, [place]", label="Sides")),
        moves=True, caution=BOTH_GO, pair=True, words="both diagonals of two axes", called="diagonals",
    ),
    PlanKind(
        kind="square",
        setup="indicator",
        where="A square lies on the table, its stock along the first axis; the dial on the carriage touches its blade.",
        tells="how far two axes are out of square, place by place",
        unit="m",
        reads=LENGTH,
        settings=settings_square,
        steps=steps_square,
        columns=columns_along,
        givens=(OTHER_AXIS, Given("targets", "", "", "places along the other axis, [place]", label="Targets")),
        deviations=True, moves=True, caution=BOTH_GO, pair=True, words="readings along a square", called="a square",
    ),
    PlanKind(
        kind="straightness",
        setup="indicator",
        where="A straight edge lies along the axis; the dial on the carriage touches it from the side.",
        tells="how straight the axis goes",
        unit="m",
        reads=LENGTH,
        settings=settings_along,
        steps=steps_straightness,
        columns=columns_along,
        givens=(OTHER_AXIS, TARGETS),
        deviations=True, moves=True, caution=GOES, pair=True, words="readings along a straight edge", called="a straight edge",
    ),
)
