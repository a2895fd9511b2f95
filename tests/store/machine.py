"""A machine of one axis, and what tests of the store say of it."""

from __future__ import annotations

from tests.places import FILES

from urban_mule.demo.courtyard import demo_project

SMALL = demo_project().model_copy(update={"axes": demo_project().axes[:1]})
MASS = ("axes", 0, "moving_mass")
MOMENT = "'2026-01-01T00:00:00+00:00'"
FORMAT_3 = FILES / "format3.mule"
