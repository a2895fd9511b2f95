"""How often intervals hold, on a few machines of every sort; `make honesty` looks at sixty."""

from __future__ import annotations

from tools.intervals import SORTS, counted, lines_of, pooled

from urban_mule.demo.courtyard import demo_project


def test_intervals_of_what_is_computed_and_of_what_is_measured_hold() -> None:
    held = counted(demo_project(), 1)
    number, share = pooled(held, "computed")
    assert number > 300 and 0.88 < share <= 1.0, share
    number, share = pooled(held, "measured")
    assert number >= 6 * len(SORTS) and share >= 0.85, share
    assert any("`backlash`" in line for line in lines_of(held))
