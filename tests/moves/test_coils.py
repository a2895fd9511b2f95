"""The coil finder: right for every labelling of 4, 6 and 8 leads with a tenth of noise; broken, shorted and crossed coils named."""

from __future__ import annotations

import re
from itertools import combinations, permutations
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from tests.driving import leaf_of

from urban_mule.core.moves.coils import OPEN, Coil, Coils, coils_of, crossed
from urban_mule.core.moves.loops import HARD, LoopTest, joined_in_one_phase, loops_stand, phase_of
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


def test_eight_leads_are_told_by_at_most_four_loops_whatever_belongs_together() -> None:
    """Every way to pair four coils and to turn them round, with the hand on the shaft reckoned from their electromotive forces."""
    random, most = np.random.default_rng(6), 0
    for _ in range(400):
        order, turned = random.permutation(4), random.integers(0, 2, 4) * 2 - 1
        coils = [Coil((f"p{n}", f"q{n}"), "", 1.6) for n in range(4)]
        phase = {coils[order[n]]: (n // 2, int(turned[order[n]])) for n in range(4)}
        tests: list[LoopTest] = []
        while (stand := loops_stand(coils, tests)).next is not None:
            one, other = (phase[coil] for coil in stand.next)
            hard = HARD[2] if one[0] != other[0] else HARD[0] if one[1] != other[1] else HARD[1]
            tests.append(LoopTest(*stand.next, hard))
            assert len(tests) < 9
        most = max(most, len(tests))
        for way, gives in (("series", 2.0), ("parallel", 1.0)):
            for said in stand.wirings[way].split(". Phase B: "):
                ends = re.findall(r"[pq]\d", said)
                sign = {end: (1 if end[0] == "p" else -1) * phase[coils[int(end[1])]][1] for end in ends}
                if way == "series":  # the joined ends are a second and a first one, so that the forces add
                    assert sign[ends[0]] == -sign[ends[1]] and len({phase[coils[int(end[1])]][0] for end in ends}) == 1
                else:
                    assert sign[ends[0]] == sign[ends[1]] and sign[ends[2]] == sign[ends[3]] and gives == 1.0
    assert most == 4
    never = [LoopTest(coils[0], one, HARD[2]) for one in coils[1:]]
    assert "begin anew" in loops_stand(coils, never).sentence
    assert "do not hold" in loops_stand(coils, [LoopTest(coils[0], coils[1], HARD[3])]).sentence


@pytest.mark.every_axis
def test_a_crossed_plug_and_the_loops_of_eight_leads_are_asked_for_in_the_window(demo_copy: Path, qtbot: Any) -> None:
    window, leaf = leaf_of(demo_copy, qtbot, "Moves", "coils")
    ohms = window.session.axis.motor.phase_resistance
    window.session.edit(window.session.axis_path("coil_resistances"), f"a b {ohms}\nc d {ohms}")
    leaf.bring_up_to_date()
    for text, said in (("a c, b d", "crossed pair"), ("a b, c d", "Plugged right"), ("a b c", "not two leads for each phase")):
        leaf.plug.setText(text)
        leaf.plug.editingFinished.emit()
        assert said in leaf.plug_said.text()
    eight = "\n".join(f"{pair} {ohms / 2}" for pair in ("a b", "c d", "e f", "g h"))
    path = window.session.axis_path
    window.session.edit_all([(path("motor", "leads"), 8), (path("coil_resistances"), eight)])
    leaf.bring_up_to_date()
    assert "join a with c, and b with d" in leaf.join.text() and not leaf.keys["hard as joined"].isHidden()
    for answer in ("hard both ways", "hard as joined", "hard turned round"):
        qtbot.mouseClick(leaf.keys[answer], Qt.MouseButton.LeftButton)
    assert "phase A: join b and f; the phase is a and e" in leaf.join.text() and leaf.keys["hard as joined"].isHidden()
    qtbot.mouseClick(leaf.keys["one back"], Qt.MouseButton.LeftButton)
    assert len(window.session.axis.coil_loops.splitlines()) == 2
    window.close()


def test_the_coils_in_the_window_are_typed_kept_and_told(demo_copy: Path, qtbot: Any) -> None:
    window, leaf = leaf_of(demo_copy, qtbot, "Moves", "coils")
    ohms = window.session.axis.motor.phase_resistance
    leaf.editor.setPlainText(f"red blue {ohms}\ngreen black {ohms * 1.05}\nred green open")
    qtbot.waitUntil(lambda: "2 sound coils" in leaf.says()[0])
    assert "phase A: black and green; phase B: blue and red" in leaf.join.text()
    leaf.editor.setPlainText("red blue")
    qtbot.waitUntil(lambda: "Line 1: “red blue” is not two leads and a resistance" in leaf.says()[0])
    leaf.editor.setPlainText("red red 2")
    qtbot.waitUntil(lambda: "red to itself" in leaf.says()[0])
    window.session.undo_stack.undo()
    window.session.undo_stack.undo()
    leaf.bring_up_to_date()
    assert "red blue" in leaf.editor.toPlainText() and "2 sound coils" in leaf.says()[0]
    window.close()
