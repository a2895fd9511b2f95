"""What a gauge is: its sign, what it can see, how it grows with temperature."""

from __future__ import annotations

from urban_mule.core.sheet.given import Reals, given

SIGNS = ("plus", "minus")


class Gauge:
    """What the user knows of a gauge; lengths in m (or rad)."""

    sign: str | None = given("", "", "whether its number grows when the axis goes to plus", choices=SIGNS,
        label="Direction of greater readings")
    resolution: Reals = given("[travel]", "", "smallest step that it shows", above=0, shown=("µm", ""))
    gauge_uncertainty: Reals = given("[travel]", "u_g", "standard uncertainty", least=0, label="Uncertainty", shown=("µm", ""))
    gauge_hysteresis: Reals = given("[travel]", "h_g", "half of how far its readings from both sides differ at one place", least=0,
        label="Hysteresis", shown=("µm", ""))
    gauge_expansion: Reals = given("1/K", "α_g", "thermal expansion", label="Thermal expansion", shown="ppm/K")
