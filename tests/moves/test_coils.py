"""The coil finder: right for every labelling of 4, 6 and 8 leads with a tenth of noise; broken, shorted and crossed coils named."""

from __future__ import annotations

from itertools import combinations, permutations
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from tests.driving import leaf_of

from urban_mule.core.moves.coils import OPEN, Coil, Coils, coils_of, crossed, joined_in_one_phase, phase_of
from urban_mule.core.sheet.given import BadValue

COLOURS = "abcdefgh"
BUILT = {4: [(0, 1), (2, 3)], 6: [(0, 1, 2), (3, 4, 5)], 8: [(0, 1), (2, 3), (4, 5), (6, 7)]}  # a middle one is the tap


def measured(leads: int, order: tuple[int, ...], random: Any, ohms: float = 1.6, **changed: float) -> dict[frozenset[str], float]:
    """What an ohmmeter shows between all pairs of a motor whose leads bear these colours; changed: pairs that show another."""
    found = {}
    for one, other in combinations(range(leads), 2):
        value = OPEN
        for coil in BUILT[leads]:
            if one in coil and other in coil:
                value = ohms * abs(coil.index(one) - coil.index(other)) * float(random.uniform(0.9, 1.1))
        name = COLOURS[order[one]] + COLOURS[order[other]]
        found[frozenset(name)] = changed.get(name, value)
    return found


def sound(found: Coils, leads: int, order: tuple[int, ...]) -> bool:
    wanted = {frozenset(COLOURS[order[n]] for n in (coil[0], coil[-1])): COLOURS[order[coil[1]]] if len(coil) == 3 else ""
              for coil in BUILT[leads]}
    return not found.faults and {frozenset(one.ends): one.tap for one in found.coils} == wanted and bool(found.wirings)


def test_every_labelling_is_found_with_a_tenth_of_noise() -> None:
    random = np.random.default_rng(4)
    for leads in (4, 6):
        for order in permutations(range(leads)):
            assert sound(coils_of(measured(leads, order, random), leads), leads, order), (leads, order)
    for _ in range(3000):
        order = tuple(random.permutation(8).tolist())
        assert sound(coils_of(measured(8, order, random), 8, phase_resistance=3.2), 8, order), order


def test_what_is_wrong_with_a_coil_is_named() -> None:
    random, straight = np.random.default_rng(5), tuple(range(8))
    broken = coils_of(measured(4, straight, random, cd=OPEN), 4)
    assert "c is joined to no other lead: a broken coil" in broken.faults[0] and not broken.wirings
    short = coils_of(measured(4, straight, random, ab=0.7), 4)
    assert "a–b has 0.7 Ω" in short.faults[0] and "turns are shorted in the lower one" in short.faults[0]
    half = coils_of(measured(6, straight, random, ab=0.6, ac=2.2), 6)
    assert "the half towards a has shorted turns" in half.faults[0]
    touching = coils_of(measured(4, straight, random, ac=3.0), 4)
    assert "all joined" in touching.faults[0] and "Do not power it" in touching.faults[0]
    assert "by the sheet it would be 4 Ω" in coils_of(measured(4, straight, random), 4, phase_resistance=4.0).faults[0]
    fewer = coils_of({frozenset("ab"): 1.6}, 4)
    assert "2 of 4 leads are measured" in fewer.faults[0]
    two = coils_of({frozenset("ab"): 1.6, frozenset("bc"): 1.6, frozenset("ac"): OPEN}, 6)
    assert "measure all three" in " ".join(two.faults)
    coils = coils_of(measured(4, straight, random), 4).coils
    assert crossed(coils, (("a", "b"), ("c", "d"))) == "" and "a crossed pair" in crossed(coils, (("a", "c"), ("b", "d")))


@pytest.mark.parametrize(("readings", "leads", "said"), [
    ({frozenset("ab"): -1.0}, 4, "above 0"), ({frozenset("a"): 1.0}, 4, "two different leads"),
    ({frozenset("ab"): 1.0}, 5, "allowed are 4"),
    ({frozenset("ab"): float("nan")}, 4, "above 0"), ({frozenset(pair): 1.0 for pair in ("ab", "cd", "ef")}, 4, "the motor has 4")])
def test_impossible_resistances_are_a_sentence(readings: Any, leads: int, said: str) -> None:
    with pytest.raises(BadValue, match=said):
        coils_of(readings, leads)


def test_the_loop_and_the_shaft_tell_the_rest_of_eight_leads() -> None:
    """The electromotive forces of the coils reckoned round the loop against what the words say."""
    one = Coil(("a", "b"), "", 1.6)
    for turned in (False, True):
        emf_one, emf_other = 1.0, -1.0 if turned else 1.0  # from the first end to the second
        loop = abs(emf_one - emf_other)  # first on first, second on second
        other = Coil(("c", "d"), "", 1.6)
        assert phase_of((loop > 0, loop == 0)) == "one phase"
        said = joined_in_one_phase(one, other, hard_as_joined=loop > 0)
        assert said["series"] == ("join b and d; the phase is a and c" if turned else "join b and c; the phase is a and d")
        series = emf_one + (-emf_other if turned else emf_other)
        assert series == 2.0, "in series they add"
        assert said["parallel"].startswith("join a with d" if turned else "join a with c")
    assert phase_of((True, True)) == "two phases" and "do not hold" in phase_of((False, False))


def test_the_coils_in_the_window_are_typed_kept_and_told(demo_copy: Path, qtbot: Any) -> None:
    window, leaf = leaf_of(demo_copy, qtbot, "Moves", "coils")
    ohms = window.session.axis.motor.phase_resistance
    leaf.editor.setPlainText(f"red blue {ohms}\ngreen black {ohms * 1.05}\nred green open")
    qtbot.waitUntil(lambda: "2 sound coils" in leaf.said.text())
    assert "phase A: black and green; phase B: blue and red" in leaf.join.text()
    leaf.editor.setPlainText("red blue")
    qtbot.waitUntil(lambda: "Line 1: “red blue” is not two leads and a resistance" in leaf.said.text())
    leaf.editor.setPlainText("red red 2")
    qtbot.waitUntil(lambda: "red to itself" in leaf.said.text())
    window.session.undo_stack.undo()
    window.session.undo_stack.undo()
    leaf.bring_up_to_date()
    assert "red blue" in leaf.editor.toPlainText() and "2 sound coils" in leaf.said.text()
    window.close()
