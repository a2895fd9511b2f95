"""Ring: the spectrum with its modes, and what each shaper leaves at the frequency it is tuned to."""

from __future__ import annotations

import numpy as np

from urban_mule.core.ring.modes import Mode
from urban_mule.core.ring.shaper import residual_vibration, shaper_sequences
from urban_mule.core.ring.train_hump import NAMED_WITHIN
from urban_mule.core.sheet.units import with_doubt
from urban_mule.desk.kit.chart import DASH, ChartPicture
from urban_mule.desk.model.scope import Whole

SHAPER_COLORS = {"ZV": "violet", "ZVD": "blue", "ZVDD": "good", "EI": "tight"}


class RingPicture(ChartPicture):
    """Amplitude spectrum of all directions, its modes, and over it the share that each shaper lets through."""

    session: Whole

    needs = frozenset({"modes", "spectrum", "acceleration_reading", "tuned_shapers", "chosen_shaper", "other_modes",
                       "resonance_to_compare", "first_axial_mode"})
    about = "Spectrum with modes and shapers"

    def redraw(self) -> None:
        chart, solution = self.chart, self.state.solution
        chart.name_axes("frequency, Hz", "share of the peak")
        spectrum, modes = solution.get("spectrum"), solution.get("modes")
        if spectrum is None:
            busy = self.session.analysing and self.state.axis.last_reading("acceleration") is not None
            chart.empty("The record is being analysed." if busy
                        else f"No spectrum yet: {self.state.reason_unknown('spectrum')}.")
            return
        chart.restart()
        top = max(2.2 * max(m.frequency for m in modes), 5 * modes[0].frequency) if modes else 150.0
        band = (spectrum.frequency >= 2) & (spectrum.frequency <= top)
        f = spectrum.frequency[band]
        amplitude = np.sqrt(spectrum.summed[band])
        amplitude = amplitude / amplitude.max()
        chart.line(f, amplitude, "ink", 1.6, fill_to=0, fill="terrain")
        chart.frame((0, top), (0, 1.28))
        if not modes:
            return
        computed, held = solution.get("resonance_to_compare"), solution.get("first_axial_mode")
        for frequency, said in ((computed, "computed, with the motor"), (held, "computed, motor held")):
            if frequency is not None and frequency < top and (frequency is computed or frequency != computed):
                chart.line([frequency] * 2, [0, 0.86], "muted", 1.2, DASH)
                chart.text(frequency, 0.86, f"{frequency:.1f} Hz {said}", "muted", (0.5, 1), 12)
        for index, mode in enumerate(modes):
            chart.line([mode.frequency] * 2, [0, 1.28 if index == 0 else 1.1], "accent", 1.6 if index == 0 else 1.0)
            y = 1.25 if index == 0 else 1.12
            said = self._named(mode.frequency)
            frequency, damping = (f"{value:.{digits}f}" if u is None else with_doubt(value, u) for value, u, digits in (
                (mode.frequency, mode.frequency_uncertainty, 1), (mode.damping_ratio, mode.damping_uncertainty, 3)))
            chart.text(mode.frequency, y, f" {frequency} Hz{said}, damping ratio {damping}", "accent", (0, 0),
                       14 if index == 0 else 12, index == 0)
        self._shapers(modes[0], top)

    def _named(self, frequency: float) -> str:
        """What somebody said of a hump, after its frequency."""
        reading = self.state.axis.last_reading("acceleration")
        train = None if reading is None else reading.train_mode
        named = [(train, "train"), *((one.frequency, one.rings) for one in self.state.axis.mode_names or ())]
        return next((f", the {what}" for at, what in named if at and abs(frequency / at - 1) <= NAMED_WITHIN), "")

    def _shapers(self, mode: Mode, top: float) -> None:
        """What each tuned shaper leaves, labelled where its curve stands apart from the others; the chosen one in front."""
        chosen, tuned = self.state.solution.get("chosen_shaper"), self.state.solution.get("tuned_shapers") or []
        f = np.linspace(1.0, top, 200)
        places = {"ZV": (4.0, (0.5, 1.0)), "ZVD": (4.0, (0.5, 1.0)), "ZVDD": (4.0, (0.5, 1.0)), "EI": (0.62, (1.1, 0.5))}
        for one in sorted(tuned, key=lambda one: chosen is not None and one["name"] == chosen["name"]):
            now = chosen is not None and one["name"] == chosen["name"]
            at = float(chosen["frequency"] if now and chosen is not None else one["frequency"])
            shaper = next(s for s in shaper_sequences(at, mode.damping_ratio) if s.name == one["name"])
            left = residual_vibration(shaper, f, mode.damping_ratio)
            color = SHAPER_COLORS[shaper.name]
            width, alpha = (2.8, 255) if now else (1.0, 150)  # one px is drawn in a tenth of the time of more
            self.chart.line(f, left, color, width, alpha=alpha)
            share, anchor = places[shaper.name]
            self.chart.text(at * share, float(np.interp(at * share, f, left)),
                            f"what {shaper.name} at {at:.1f} Hz leaves" if now else shaper.name, color, anchor,
                            13 if now else 12, now)
