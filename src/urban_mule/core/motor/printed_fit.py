"""The winding that a curve of a data sheet belongs to: least squares over its points, with what else is known as a soft bound.

Source: the damped least squares of Levenberg and Marquardt; what is usual as further residuals (A. Tarantola,
Inverse Problem Theory).
"""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import lru_cache
from typing import Any, Protocol, TypeVar

import numpy as np

from urban_mule.core.sheet.record import record

READ_TO = 0.03  # of a torque: as well as a curve is printed and read off
READ_TO_LEAST = 0.01  # of its greatest torque: the width of the line
ROUNDS, STEP, ENOUGH = 30, 1e-5, 1e-3
SMALL = 0.05  # of a standard uncertainty: near enough for a straight line
Model = Callable[[np.ndarray], np.ndarray]
F = TypeVar("F", bound="HasFit")


@record(frozen=True, eq=False, repr=False)
class Fitted:
    """Parameters found [..., P], their covariance [..., P, P], and what the points lie off, as a share of each torque [..., M]."""

    values: np.ndarray
    covariance: np.ndarray
    off: np.ndarray

    def spread_of(self, curve: Callable[[np.ndarray], np.ndarray]) -> np.ndarray:
        """Standard uncertainty of a curve made of the parameters, point by point, to first order; for a single fit."""
        middle = curve(self.values)
        steps = SMALL * np.linalg.cholesky(self.covariance).T
        return np.asarray(np.sqrt(sum(np.square(curve(self.values + step) - middle) for step in steps))) / SMALL

    @property
    def deviation(self) -> np.ndarray:
        """Root mean square of what the points lie off [1]."""
        return np.asarray(np.sqrt(np.mean(self.off**2, axis=-1)))


def fitted(
    model: Model, torques: np.ndarray, usual: np.ndarray, spread: np.ndarray, begin: np.ndarray, near: np.ndarray | None = None
) -> Fitted:
    """Parameters with which a model gives these torques: the best that is found from several beginnings.

    model: from parameters [..., P] to torques [..., M] in N·m. torques: [M]. usual: [..., P], where the parameters are likely to
    lie; spread: [P], how far from it. begin: [S, P], the beginnings as differences from what is usual; near: [P], the only one.
    """
    width = np.maximum(READ_TO * torques, READ_TO_LEAST * float(torques.max()))
    middle = usual[..., None, :]

    def off(at: np.ndarray) -> np.ndarray:
        return np.concatenate([(model(at) - torques) / width, (at - middle) / spread], axis=-1)

    at = middle + begin if near is None else np.broadcast_to(near.ravel(), middle.shape).copy()
    now, damping = off(at), np.full(at.shape[:-1], 1e-2)
    for _ in range(ROUNDS):
        slopes = _slopes(off, at, now)
        normal, downhill = slopes @ np.swapaxes(slopes, -1, -2), (slopes @ now[..., None])
        weight = damping[..., None, None] * normal * np.eye(usual.shape[-1])
        tried = at - np.linalg.solve(normal + weight, downhill)[..., 0]
        then = off(tried)
        gain = np.sum(now**2, axis=-1) - np.sum(then**2, axis=-1)
        better = gain > 0
        at, now = np.where(better[..., None], tried, at), np.where(better[..., None], then, now)
        damping = np.where(better, damping / 5, damping * 5)
        if np.all(np.abs(gain) < ENOUGH):
            break
    best = np.argmin(np.sum(now**2, axis=-1), axis=-1)[..., None, None]
    at, now = (np.take_along_axis(one, best, axis=-2) for one in (at, now))
    slopes = _slopes(off, at, now)
    least = np.maximum(torques, READ_TO_LEAST / READ_TO * float(torques.max()))
    return Fitted(at[..., 0, :], np.linalg.inv(slopes @ np.swapaxes(slopes, -1, -2))[..., 0, :, :],
                  (now[..., :torques.size] * width / least)[..., 0, :])


class HasFit(Protocol):
    """What carries a fit."""

    @property
    def found(self) -> Fitted: ...


def worst_share(curve: np.ndarray, apart: np.ndarray) -> float:
    """How far two curves lie apart at most, up to where a fifth of the torque is left; infinite of none.

    curve: torques at equal steps of speed. apart: by how much torque they differ there. As a share of both the greatest torque and
    the whole range of speeds, across the curve: where it falls steeply, a speed says more than a torque.
    """
    greatest = float(curve.max())
    if greatest <= 0:
        return math.inf
    steepness = np.gradient(curve / greatest, 1.0 / (curve.size - 1))
    across = np.abs(apart) / greatest / np.hypot(1.0, steepness)
    return float(np.max(across[curve > greatest / 5]))


def once_for_plain(fit: Callable[..., F]) -> Callable[..., F]:
    """A fit of curves and what else is known, kept for the same again; for arrays it begins at that of their middle."""
    kept = lru_cache(maxsize=64)(fit)

    @lru_cache(maxsize=64)
    def kept_of_arrays(curves: Any, *given: Any) -> F:
        numbers = [np.frombuffer(one[0]).reshape(one[1]) if isinstance(one, tuple) else one for one in given]
        middle = (float(np.median(one)) if isinstance(one, np.ndarray) else one for one in numbers)
        return fit(curves, *numbers, near=kept(curves, *middle).found.values)

    def made(curves: Any, *given: Any) -> F:
        if any(np.size(one) > 1 for one in given):
            return kept_of_arrays(curves, *((np.asarray(one, dtype=float).tobytes(), np.shape(one))
                                            if isinstance(one, (np.ndarray, np.generic)) else one for one in given))
        return kept(curves, *(float(np.median(one)) if isinstance(one, (np.ndarray, np.generic)) else one for one in given))

    return made


def _slopes(off: Model, at: np.ndarray, now: np.ndarray) -> np.ndarray:
    """How each residual [..., M] changes with each parameter, as [..., P, M]."""
    steps = STEP * np.eye(at.shape[-1]).reshape(-1, *(1,) * (at.ndim - 1), at.shape[-1])
    return np.moveaxis((off(at + steps) - now) / STEP, 0, -2)
