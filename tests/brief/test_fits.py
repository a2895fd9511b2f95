"""What fits what, by hand: shafts and bores along a train, flanges, belts; and the verdict leads to where sizes are typed."""

from __future__ import annotations

import itertools
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import Qt
from tests.driving import leaf_of

from urban_mule.core.brief.fits import BoughtPart, BoughtParts, Fit, fits_of
from urban_mule.core.sheet.verdict import LEVELS
from urban_mule.core.train.link import Link
from urban_mule.core.train.links import Belt, Coupling, Rack, Reduction, Screw, Worm

LINKS: dict[str, Link] = {
    "coupling": Coupling(rated_torque=5.0), "reduction": Reduction(ratio=3.0), "worm": Worm(ratio=20.0, efficiency=0.5),
    "screw": Screw(lead=0.005), "belt": Belt(pitch=0.003, teeth=20), "rack": Rack(module=1e-3, teeth=20)}
TRAINS = [("belt",), ("coupling", "screw"), ("reduction", "rack"), ("coupling", "reduction", "belt"), ("worm", "coupling", "screw")]


def parts(train: tuple[str, ...], size: float, motor: float | None = None) -> tuple[BoughtPart, ...]:
    """Every part of a train with all its openings of one size, the motor's shaft too unless it is another."""
    links = [BoughtPart(slot=place, bore=size, bore_out=size, shaft=size) for place in range(len(train))]
    return (BoughtPart(slot="motor", shaft=size if motor is None else motor), *links)


def told(train: tuple[str, ...], bought: BoughtParts, travel: float | None = None) -> list[Fit]:
    return list(fits_of(bought, tuple(LINKS[kind] for kind in train), travel))


@pytest.mark.parametrize("train", TRAINS, ids=" ".join)
def test_where_all_is_of_one_size_every_joint_fits_but_two_shafts(train: tuple[str, ...]) -> None:
    found = told(train, BoughtParts(parts(train, 0.008)))
    joints = [one for one in found if "haft" in one.said]
    assert len(joints) == len(train)
    ends = list(itertools.pairwise(("motor", *train)))
    for one, (left, right) in zip(joints, ends, strict=True):
        meet = right == "screw" and left != "coupling"
        assert one.level == ("tight" if meet else "good"), one.said
        assert left in one.said and right in one.said


@pytest.mark.parametrize("train", TRAINS, ids=" ".join)
def test_one_odd_shaft_is_found_at_its_own_joint_and_nowhere_else(train: tuple[str, ...]) -> None:
    found = told(train, BoughtParts(parts(train, 0.008, motor=0.00635)))
    odd = [one for one in found if one.level == "short"]
    assert len(odd) == (0 if train[0] == "screw" else 1) and "6.35 mm" in odd[0].said and train[0] in odd[0].said
    assert "never drill" in odd[0].do


def test_what_is_known_on_one_side_only_asks_for_the_other() -> None:
    found = told(("coupling", "screw"), BoughtParts((BoughtPart(slot="motor", shaft=0.008), BoughtPart(slot=1, shaft=0.01))))
    assert [one.level for one in found] == ["unknown", "unknown"]
    assert "bore of the coupling" in found[0].said and "bore behind of the coupling" in found[1].said
    assert told(("coupling", "screw"), BoughtParts(())) == []


@pytest.mark.parametrize(("sizes", "level", "said"), [
    ({"belt_pitch": 0.003}, "good", "Belt and pulley fit"), ({"belt_pitch": 0.005}, "short", "Wrong belt"),
    ({"belt_width": 0.009, "pulley_width": 0.009}, "good", "Width"),
    ({"belt_width": 0.016, "pulley_width": 0.009}, "short", "Width"),
    ({"belt_length": 1.203}, "good", "travel alone takes 1.06 m"), ({"belt_length": 0.9}, "short", "travel alone takes 1.06 m"),
    ({"belt_length": 1.2041}, "tight", "no whole number of teeth")])
def test_a_belt_as_it_is_ordered(sizes: dict[str, float], level: str, said: str) -> None:
    found = told(("belt",), BoughtParts((BoughtPart(slot=0, **sizes),)), travel=0.5)
    assert any(one.level == level and said in one.said for one in found), found


def test_an_open_belt_is_as_long_as_the_way_and_needs_no_whole_teeth() -> None:
    bought = BoughtParts((BoughtPart(slot=0, belt_length=0.6041),))
    found = fits_of(bought, (Belt(pitch=0.003, teeth=20, layout="open"),), 0.5)
    assert [one.level for one in found] == ["good"] and "takes 500 mm" in found[0].said


@pytest.mark.parametrize(("frame", "level"), [(0.06, "good"), (0.057, "short"), (None, "unknown")])
def test_a_flange_against_the_reduction_behind_it(frame: float | None, level: str) -> None:
    bought = BoughtParts((BoughtPart(slot="motor", frame=0.06), BoughtPart(slot=0, frame=frame)))
    assert [one.level for one in told(("reduction", "rack"), bought) if "flange" in one.said] == [level]


@pytest.mark.parametrize(("strongest", "level"), [(4.9, "good"), (5.1, "short"), (None, None)])
def test_a_coupling_is_held_against_the_stronger_motor_behind_the_gear(strongest: float | None, level: str | None) -> None:
    direct = [one.level for one in told(("coupling", "screw"), BoughtParts((), strongest)) if "carries" in one.said]
    assert direct == ([] if level is None else [level])
    behind = (Reduction(ratio=0.5), Coupling(rated_torque=5.0), Screw(lead=0.005))
    geared = [one.level for one in fits_of(BoughtParts((), strongest), behind) if "carries" in one.said]
    assert geared == ([] if strongest is None else ["good"]), "a ratio below one halves the torque there"


def test_every_level_says_something_and_the_bad_ones_what_to_do() -> None:
    for train, size in itertools.product(TRAINS, (0.008, None)):
        for one in told(train, BoughtParts(parts(train, size or 0.01, 0.009), 6.0, "pulse"), 0.5):
            assert one.level in LEVELS and one.said and (one.do or one.level == "good")


def test_an_unfinished_fit_leads_to_the_list_of_parts(demo_copy: Path, qtbot: Any) -> None:
    window, picture = leaf_of(demo_copy, qtbot, "Brief", "parts")
    picture.lines["shaft"].setText("8")
    picture.enter("shaft")
    assert [name for name, _ in window.stage.missing.links] == ["parts_bought"]
    window.show_stage("Motor")
    window.go_to_field("parts_bought")
    assert window.trail.stage == "Brief" and window.stage.leaves.word == "parts"
    window.stage.leaves.turn("goals")
    qtbot.mouseClick(window.stage.missing.buttons[0], Qt.MouseButton.LeftButton)
    assert window.stage.leaves.word == "parts"
    window.close()
