"""Modes: frequency and damping ratio, all fitted together to the transform of the whole record.

Peaks are found on the Welch picture. The fit maximises the likelihood of the periodogram (P. Whittle, Estimation and
Information in Stationary Time Series, 1953) by Fisher scoring, so that it serves a tap, a sweep and noise alike.
"""

from __future__ import annotations

import numpy as np

from urban_mule.core.ring.spectrum import Spectrum, TimeBase
from urban_mule.core.sheet.progress import PACE
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.sheet.record import record

LOWEST, HIGHEST = 3.0, 400.0  # Hz: a machine's structural modes lie between
LEAST_PROMINENCE = 6.0  # dB over the saddle to a higher neighbour
LEAST_LEVEL = 26.0  # dB below the highest peak where peaks stop counting
MOST_MODES = 4
ROUND_OFF = 1e-9  # of the greatest value: what swings by less is the rounding of a constant one, gravity say
TAP_BINS = 1600
BINS = 450  # of the averaged periodogram that the fit looks at
MOST_STEPS = 40
WEIGHT_POWER = 0.4
LEAST_FLOOR = np.log(1e-9)  # of the greatest power
QUIET, RESTING = 0.15, 0.05  # of the whole record's level: it begins quietly, it rests at its end
TRYING_STEPS, TRYING_BINS = 15, 150
MORE = 3.0  # times what a fit tells of itself: it knows neither how evenly it was shaken nor what else rings
AS_SHAKEN = (0.05, 0.3)  # of frequency and damping ratio: a strong swing is slower than a small one, by 5 % at integrated machines


@record(frozen=True, eq=False, repr=False)
class Mode:
    """One resonance: frequency [Hz], damping ratio, strength (its share of the power at the peaks, sum 1), height of its peak in
    the transform [m/s² · s], by which records of one kind are compared; the standard uncertainties of frequency and damping ratio
    as the fit tells them, None where it does not.
    """

    frequency: float
    damping_ratio: float
    strength: float
    height: float
    frequency_uncertainty: float | None = None
    damping_uncertainty: float | None = None


def peaks(level: np.ndarray, least_prominence: float, least_level: float) -> list[int]:
    """Indices of local maxima of a level [dB] by prominence, highest first."""
    inner = np.flatnonzero((level[1:-1] > level[:-2]) & (level[1:-1] >= level[2:])) + 1
    found: list[int] = []
    for index in inner[np.argsort(-level[inner], kind="stable")]:
        if found and level[index] < level[found[0]] - least_level:
            break
        higher_left = np.flatnonzero(level[:index] > level[index])
        higher_right = np.flatnonzero(level[index + 1:] > level[index])
        left = level[higher_left[-1] if higher_left.size else 0: index + 1].min()
        right = level[index: index + 2 + higher_right[0] if higher_right.size else None].min()
        if level[index] - max(left, right) >= least_prominence:
            found.append(int(index))
    return found


def fading(centred: np.ndarray, duration: float) -> float | None:
    """How fast a record (one direction a row, mean removed) has to be faded so that it rests at its end [1/s]; 0 when it does.

    None for one that was shaken from before its beginning to after its end: fading would not help it. duration [s].
    """
    edge = max(8, centred.shape[1] // 100)
    loud, first, last = (np.sqrt(np.mean(part**2)) + 1e-300 for part in (centred, centred[:, :edge], centred[:, -edge:]))
    if last < RESTING * loud:
        return 0.0
    if first < QUIET * loud or last < first / 2:
        return float(np.log(last / loud / RESTING) / duration)
    return None


def periodogram(base: TimeBase, high: float) -> tuple[np.ndarray, np.ndarray, float | None]:
    """Frequencies up to `high` [Hz], power of the whole record's transform, a column a direction, and how it was faded [1/s].

    A record that begins at rest but does not end so is multiplied by e^(−σt), which moves every pole by −σ and does nothing
    else to a linear system; one that was shaken throughout gets a Hann window, and None.
    """
    rows = np.ascontiguousarray(base.values.T)
    rows = rows - rows.mean(axis=1, keepdims=True)
    count = rows.shape[1]
    times = np.arange(count) / base.sample_rate
    faded = fading(rows, times[-1])
    if faded is None:
        rows *= 0.5 - 0.5 * np.cos(2 * np.pi * np.arange(count) / count)
    elif faded:
        rows *= np.exp(-faded * times)
    size = fast_size(count)
    last = int(high * size / base.sample_rate) + 1
    transform = np.stack([np.fft.rfft(row, size)[:last] for row in rows], axis=1)
    power = (transform.real**2 + transform.imag**2) / base.sample_rate**2
    return np.arange(last) * base.sample_rate / size, power if faded is not None else power / times[-1], faded


def unfaded(frequency: float, damping_ratio: float, faded: float) -> tuple[float, float]:
    """Frequency [Hz] and damping ratio of a mode before its record was faded by `faded` [1/s]."""
    omega = 2 * np.pi * frequency
    decay, swing = damping_ratio * omega - faded, omega * np.sqrt(1 - damping_ratio**2)
    before = float(np.hypot(decay, swing))
    return before / (2 * np.pi), decay / before


def fast_size(samples: int) -> int:
    """The least size of 2^a·3^b·5^c that holds the samples."""
    return min(
        (2**a * 3**b * 5**c for a in range(25) for b in range(4) for c in range(4) if 2**a * 3**b * 5**c >= samples),
        default=samples,
    )


def merged(frequency: np.ndarray, power: np.ndarray, most: int) -> tuple[np.ndarray, np.ndarray]:
    """A periodogram with neighbouring bins averaged so that about `most` rows remain.

    frequency: [Hz], n; power: any unit, n × directions.
    """
    group = max(1, len(frequency) // most)
    count = len(frequency) // group
    return (
        frequency[:count * group].reshape(count, group).mean(axis=1),
        power[:count * group].reshape(count, group, -1).mean(axis=1),
    )


def spread(power: np.ndarray) -> np.ndarray:
    """Power as a Hann window shows it: each bin's shared with its neighbours, 1/6, 2/3, 1/6 (its squared transform).

    power: the bins stand in the last place.
    """
    padded = np.concatenate([power[..., :1], power, power[..., -1:]], axis=-1)
    return np.asarray((padded[..., :-2] + 4 * power + padded[..., 2:]) / 6)


@record(frozen=True, eq=False, repr=False)
class ModeFit:
    """|Σ c_m r²/(1 − r² + 2jζ_m r) + k + l (f/f_top)²|² + floor, r = f/f_m.

    Shared: log f_m, log ζ_m. Per direction: signed c_m, k and l for modes below and above the band (upper and lower
    residuals of modal testing), log floor. Parameters stand in that order, the directions innermost.
    """

    frequency: np.ndarray
    power: np.ndarray  # directions × bins
    weight: np.ndarray  # per bin: what lies far below the peaks tells more of the excitation than of the modes
    windowed: bool  # the Hann window spreads each bin's power over its neighbours

    def split(self, theta: np.ndarray, count: int) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
        """Frequencies [Hz], damping ratios, amplitudes (modes and residuals × directions), floors."""
        directions = len(self.power)
        f, zeta = np.exp(theta[:count]), np.exp(theta[count:2 * count])
        return f, zeta, theta[2 * count:-directions].reshape(count + 2, directions), np.exp(theta[-directions:])

    def model(self, theta: np.ndarray, count: int) -> tuple[np.ndarray, np.ndarray]:
        """Power (directions × bins) and its derivatives (parameters × directions × bins)."""
        f, zeta, c, floor = self.split(theta, count)
        directions, bins = self.power.shape
        r = self.frequency / f[:, None]
        squared, damped = r**2, 2j * zeta[:, None] * r
        response = 1 / (1 - squared + damped)
        relative = self.frequency / self.frequency[-1]
        shapes = np.concatenate([squared * response, [np.ones_like(relative), relative**2]])
        total = c.T @ shapes
        by_shape = 2 * np.conj(total) * shapes[:, None, :]
        by_mode = by_shape[:count] * (c[:count, :, None] * -response[:, None, :])
        jacobian = np.zeros((theta.size, directions, bins))
        jacobian[:count] = (by_mode * (2 + damped)[:, None, :]).real
        jacobian[count:2 * count] = (by_mode * damped[:, None, :]).real
        for d in range(directions):
            jacobian[2 * count + d:-directions:directions, d] = by_shape[:, d].real
            jacobian[theta.size - directions + d, d] = floor[d]
        power = total.real**2 + total.imag**2 + floor[:, None]
        return (spread(power), spread(jacobian)) if self.windowed else (power, jacobian)

    def misfit(self, power: np.ndarray) -> np.ndarray:
        """Whittle's negative log-likelihood per bin, for each direction."""
        return np.asarray((np.log(power) + self.power / power) @ self.weight)

    def start(self, guesses: list[tuple[float, float]]) -> np.ndarray:
        """Parameters to start from: guesses (frequency, damping ratio), amplitudes as read off."""
        f, zeta = np.array(guesses).T
        near = np.abs(self.frequency[:, None] - f).argmin(axis=0)
        size = np.sqrt(np.stack([self.power[:, max(0, i - 2):i + 3].mean(axis=1) for i in near])) * 2 * zeta[:, None]
        floor = np.maximum(np.quantile(self.power, 0.05, axis=1) / 3, np.exp(LEAST_FLOOR))
        residuals = np.zeros((2, len(self.power)))
        return np.concatenate([np.log(f), np.log(zeta), np.concatenate([size, residuals]).ravel(), np.log(floor)])

    def solve(self, guesses: list[tuple[float, float]]) -> np.ndarray:
        """The fitted parameters. No step can carry an amplitude through zero, so the signs are tried first.

        Whether two neighbours in frequency swing together or against each other shows in the gap between them, so each
        gap is tried both ways by a short run, in every direction at once.
        """
        count, directions = len(guesses), len(self.power)
        rows, both = merged(self.frequency, np.column_stack([*self.power, self.weight]), TRYING_BINS)
        coarse = ModeFit(rows, both[:, :-1].T, both[:, -1] / both[:, -1].sum(), self.windowed)
        start = self.start(sorted(guesses))
        tried = [start]
        for gap in range(1, count):
            against = np.ones((count + 2, 1))
            against[gap:count] = -1
            turned = start.copy()
            turned[2 * count:-directions] = (self.split(start, count)[2] * against).ravel()
            tried.append(turned)
        reached = [coarse.run(theta, count, TRYING_STEPS) for theta in tried]
        misfits = np.array([coarse.misfit(coarse.model(theta, count)[0]) for theta in reached])
        best = reached[int(misfits.sum(axis=1).argmin())].copy()
        signs = np.ones((count, directions))
        for gap in range(1, count):
            signs[gap:, misfits[gap] < misfits[0]] *= -1
        c = self.split(best, count)[2].copy()
        c[:count] = np.abs(c[:count]) * signs
        mixed = best.copy()
        mixed[2 * count:-directions] = c.ravel()
        reached = [coarse.run(theta, count, TRYING_STEPS) for theta in ([best, mixed] if count > 1 else [best])]
        settled = min(reached, key=lambda theta: coarse.misfit(coarse.model(theta, count)[0]).sum())
        return self.run(settled, count, MOST_STEPS)

    def run(self, theta: np.ndarray, count: int, most_steps: int) -> np.ndarray:
        """Fisher scoring with damped steps from `theta`; the parameters reached."""
        directions, damping, root = len(self.power), 1e-3, np.sqrt(self.weight)
        power, jacobian = self.model(theta, count)
        best = self.misfit(power).sum()
        for _ in range(most_steps):
            PACE.breathe()
            slopes = (jacobian * (root / power)).reshape(theta.size, -1)
            normal, gradient = slopes @ slopes.T, slopes @ (root * (self.power / power - 1)).ravel()
            diagonal = np.diag(normal) + 1e-12 * np.trace(normal)
            step = np.linalg.solve(normal + damping * np.diag(diagonal), gradient)
            step *= min(1.0, 0.5 / (np.abs(step[:2 * count]).max() + 1e-300))
            # Nothing fixes the floor of a clean record: its own step is cut, so that it throttles no other.
            floors = theta[-directions:] + np.clip(step[-directions:], -1.0, 1.0)
            trial = np.concatenate([theta[:-directions] + step[:-directions], np.maximum(floors, LEAST_FLOOR)])
            new_power, new_jacobian = self.model(trial, count)
            new = self.misfit(new_power).sum()
            if not new < best:
                damping *= 8
                if damping > 1e6:
                    break
                continue
            settled = best - new < 1e-6
            theta, power, jacobian, best, damping = trial, new_power, new_jacobian, new, max(damping / 5, 1e-9)
            if settled:
                break
        return theta

    def uncertainty(self, theta: np.ndarray, count: int) -> tuple[np.ndarray, np.ndarray]:
        """Standard uncertainties of log frequency and log damping ratio of each mode, from what the rows really lie off the fit.

        (H. White, Maximum Likelihood Estimation of Misspecified Models, 1982: the sandwich of both informations.)
        """
        power, jacobian = self.model(theta, count)
        slopes = jacobian / power
        flat = (slopes * np.sqrt(self.weight)).reshape(theta.size, -1)
        normal = flat @ flat.T
        inverse = np.linalg.pinv(normal + 1e-12 * np.trace(normal) * np.eye(theta.size))
        scores = slopes * (self.weight * (self.power / power - 1))
        if self.windowed:  # each bin shares its power with both its neighbours
            scores = scores + (np.roll(scores, 1, axis=2) + np.roll(scores, -1, axis=2)) / 4
        scores = scores.reshape(theta.size, -1)
        variance = np.diag(inverse @ (scores @ scores.T) @ inverse)
        wide = np.sqrt(np.maximum(variance, 0.0))
        return wide[:count], wide[count:2 * count]


def half_power_damping(frequency: np.ndarray, density: np.ndarray, index: int) -> float:
    """A first guess of the damping ratio from the width of a peak at half its height. frequency: [Hz]; density: any unit."""
    half = density[index] / 2
    left = index
    while left > 0 and density[left] > half:
        left -= 1
    right = index
    while right < len(density) - 1 and density[right] > half:
        right += 1
    return float(np.clip((frequency[right] - frequency[left]) / 2 / frequency[index] / 1.5, 0.004, 0.2))


@quantity("", symbol="f_m, ζ_m", structure=True,
          source="P. Whittle, Estimation and Information in Stationary Time Series, 1953; single-mode accelerances summed",
          formula="|∑ c_m·r²/(1 − r² + 2jζ_m·r)|² + floor, r = f/f_m, fitted to |FFT|² of the whole record", slow=True)
def modes(time_base: TimeBase, spectrum: Spectrum) -> tuple[Mode, ...]:
    """The resonances of the last acceleration record, strongest first. Raises NotKnown when no peak stands out."""
    band = (spectrum.frequency >= LOWEST) & (spectrum.frequency <= min(HIGHEST, 0.45 * time_base.sample_rate))
    frequency, density = spectrum.frequency[band], spectrum.summed[band]
    largest = ROUND_OFF * max(float(time_base.values.max()), -float(time_base.values.min()))
    if not density.size or density.sum() * spectrum.frequency[1] <= largest**2:
        raise NotKnown("the acceleration record is still: nothing rings")
    rows = periodogram(time_base, frequency[-1])
    shaken = rows[2] is None
    guesses = first_guesses(frequency, density, least_prominence(time_base, spectrum, shaken))
    if not shaken:
        sharp = merged(rows[0], rows[1].sum(axis=1, keepdims=True), TAP_BINS)
        band = sharp[0] >= LOWEST
        finer = first_guesses(sharp[0][band], smoothed(sharp[1][band, 0]), LEAST_PROMINENCE)
        guesses = max(guesses, finer, key=len)
    if not guesses:
        raise NotKnown("no peak stands out of the spectrum")
    weight = (density / density.max()) ** WEIGHT_POWER
    while guesses:
        fitted = fit_modes(guesses, *rows, (frequency, weight))
        if len(fitted) == len(guesses):
            break
        guesses = [(m.frequency, m.damping_ratio) for m in fitted] or guesses[:-1]
    if not guesses:
        raise NotKnown("no mode could be fitted to the peaks of the spectrum")
    return fitted


def first_guesses(frequency: np.ndarray, density: np.ndarray, prominence: float) -> list[tuple[float, float]]:
    """Frequency [Hz] and rough damping ratio of each peak of a density, highest first."""
    found = peaks(10 * np.log10(density + 1e-12 * density.max()), prominence, LEAST_LEVEL)[:MOST_MODES]
    return [(float(frequency[i]), half_power_damping(frequency, density, i)) for i in found]


def smoothed(density: np.ndarray) -> np.ndarray:
    """A density averaged over three neighbours."""
    return np.convolve(np.pad(density, 1, mode="edge"), [0.25, 0.5, 0.25], mode="valid")


def least_prominence(base: TimeBase, spectrum: Spectrum, shaken: bool) -> float:
    """How far a peak must stand out [dB]: more when a record that was shaken throughout has few segments to average.

    Chance makes peaks of its own there; a tap that dies away has none.
    """
    if not shaken:
        return LEAST_PROMINENCE
    segments = 2 * len(base.values) * (spectrum.frequency[1] / base.sample_rate)
    return float(max(LEAST_PROMINENCE, min(10.0, 6 * 4.34 / np.sqrt(segments))))


def fit_modes(
    guesses: list[tuple[float, float]], frequency: np.ndarray, power: np.ndarray, faded: float | None,
    weight: tuple[np.ndarray, np.ndarray],
) -> tuple[Mode, ...]:
    """The modes that a fit from these guesses (frequency [Hz], damping ratio) supports, strongest first.

    frequency [Hz], power, faded [1/s]: the periodogram; weight: (frequencies [Hz], weights) to interpolate.
    """
    low, high = min(f for f, _ in guesses), max(f for f, _ in guesses)
    first, last = np.searchsorted(frequency, [max(LOWEST, 0.5 * low), 1.5 * high + 5])
    rows, averages = merged(frequency[first:last], power[first:last], BINS)
    level = np.interp(rows, *weight)
    fit = ModeFit(rows, (averages / averages.max()).T, level / level.sum(), faded is None and len(rows) == last - first)
    theta = fit.solve(guesses)
    f, zeta, c, _ = fit.split(theta, len(guesses))
    told = fit.uncertainty(theta, len(guesses))
    sure_f, sure_zeta = (np.hypot(MORE * one, open_) * value for one, open_, value in zip(told, AS_SHAKEN, (f, zeta), strict=True))
    if faded:
        f, zeta = np.array([unfaded(*one, faded) for one in zip(f, zeta, strict=True)]).T
    strength = ((np.abs(c[:len(guesses)]) / (2 * zeta[:, None])) ** 2).sum(axis=1)
    kept = [
        m for m in np.argsort(-strength)
        if rows[0] <= f[m] <= rows[-1] and 1e-4 < zeta[m] < 0.5 and strength[m] > 10 ** (-LEAST_LEVEL / 10) * strength.max()
    ]
    total = float(strength[kept].sum())
    heights = np.sqrt(strength * averages.max())
    return tuple(Mode(float(f[m]), float(zeta[m]), float(strength[m]) / total, float(heights[m]), float(sure_f[m]),
                      float(sure_zeta[m])) for m in kept)


@quantity("", symbol="f_m, ζ_m", source="the fitted modes, by rising frequency", formula="frequency and damping ratio of each mode")
def resonances(modes: tuple[Mode, ...]) -> list[dict[str, float]]:
    """The modes as an open list: frequency [Hz] and damping_ratio."""
    rising = sorted(modes, key=lambda mode: mode.frequency)
    return [{"frequency": mode.frequency, "damping_ratio": mode.damping_ratio} for mode in rising]
