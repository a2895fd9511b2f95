"""The cycle on Load: how long it takes and what torque it asks."""

from __future__ import annotations

from urban_mule.core.sheet.shown import solved_text
from urban_mule.desk.shared.cycle import CyclePicture


class LoadCycle(CyclePicture):
    """The cycle, whose headline is what it asks of the motor."""

    def says(self) -> tuple[str, str] | None:
        """Its time and its torque."""
        solution, system = self.state.solution, self.state.system
        if solution.get("cycle_duration") is None:
            return "The cycle has no move yet.", "Add a way there and a way back: torque, heat and time follow from them."
        takes = f"The cycle takes {solved_text(solution, 'cycle_duration', system)}"
        peak, rms = (solved_text(solution, name, system) for name in ("peak_torque", "rms_torque"))
        if solution.get("peak_torque") is None:
            return f"{takes}.", f"What torque it asks is not known yet: {self.state.reason_unknown('peak_torque')}."
        fellow = solution.get("fellow")
        if fellow is not None:
            return (f"{takes}; one motor gives {peak} with {fellow.name} at its hardest too, {rms} RMS.",
                    f"Drawn is what {self.state.axis.name} alone asks of one motor.")
        return f"{takes} and asks {peak} at its hardest moment, {rms} RMS.", ""
