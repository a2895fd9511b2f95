"""Two hundred pairs drawn at random against their Lagrangian: every number of a pair, from a machine that knows no sheet.

Coordinates are the angles of both motors, x = r(θ_A + θ_B)/2 and y = r(θ_A − θ_B)/2; the mass matrix is the second derivative of
the kinetic energy, the loads come in by virtual work, and motion is sampled in time.
"""

from __future__ import annotations

import json
import math
from dataclasses import dataclass
from typing import Any

import numpy as np
import pytest
from scipy.linalg import eigh
from tests.places import VECTORS

from urban_mule.core.sheet.solution import Solution
from urban_mule.store.exchange.open_json import parse_project
from urban_mule.store.solve import solve_axis

MACHINES, INSTANTS, DRAG = 200, 4000, 0.02
TURNS = np.array([[1.0, 1.0], [1.0, -1.0]])  # r·θ of A and B for travel of x and y


@dataclass(frozen=True)
class Run:
    """One axis: what it moves [kg], what resists [N], and its stroke there and back [m, m/s, m/s², s]."""

    mass: float
    friction: float
    distance: float
    speed: float
    acceleration: float
    dwell: float

    @property
    def peak_speed(self) -> float:
        return min(self.speed, math.sqrt(self.distance * self.acceleration))

    def sampled(self) -> tuple[np.ndarray, np.ndarray]:
        """Speed [m/s] and acceleration [m/s²] over one whole cycle, evenly sampled in the middle of its instants."""
        ramp = self.peak_speed / self.acceleration
        moving = self.distance / self.peak_speed + ramp
        time = (np.arange(INSTANTS) + 0.5) / INSTANTS * 2 * (moving + self.dwell)
        back, time = time >= moving + self.dwell, time % (moving + self.dwell)
        a = self.acceleration * ((time < ramp).astype(float) - ((time > moving - ramp) & (time < moving)))
        v = np.minimum(self.peak_speed, self.acceleration * np.minimum(time, np.maximum(moving - time, 0.0)))
        sign = np.where(back, -1.0, 1.0)
        return sign * v, sign * a


@dataclass(frozen=True)
class Machine:
    """Both motors, belts and axes as Lagrange sees them."""

    x: Run
    y: Run
    radius: float
    rotor: float
    pulley: float
    efficiency: float
    drag: float

    def kinetic_energy(self, turning: np.ndarray) -> float:
        x, y = self.radius * (TURNS.T @ turning) / 2
        return float((self.rotor + self.pulley) / 2 * turning @ turning + self.x.mass / 2 * x * x + self.y.mass / 2 * y * y)

    def masses(self) -> np.ndarray:
        """∂²L/∂θ̇ᵢ∂θ̇ⱼ; the energy is quadratic, so that differences are exact."""
        unit = np.eye(2)
        return np.array([[self.kinetic_energy(unit[i] + unit[j]) - self.kinetic_energy(unit[i]) - self.kinetic_energy(unit[j])
                          for j in (0, 1)] for i in (0, 1)])

    def torque(self, speed: np.ndarray, acceleration: np.ndarray) -> np.ndarray:
        """Torques of A and B [N·m], rows, for travel of x and y, rows: inertia and loads by virtual work, the belt's loss on what
        goes through it, the drag of either motor against its turning.
        """
        turning = TURNS @ speed / self.radius
        own = (self.rotor + self.pulley) * TURNS @ acceleration / self.radius
        through = self.masses() @ (TURNS @ acceleration / self.radius) - own
        through += self.radius / 2 * TURNS @ (np.array([[self.x.friction], [self.y.friction]]) * np.sign(speed))
        lost = np.where(through * turning > 0, 1 / self.efficiency, self.efficiency)
        return through * lost + own + self.drag * np.sign(turning)


def drawn(random: np.random.Generator, lossless: bool) -> tuple[Machine, tuple[Solution, Solution]]:
    """A machine, and the sheets of both axes."""
    runs = [Run(float(random.uniform(0.3, 6)), float(random.uniform(0, 12)), float(random.uniform(0.02, 0.5)),
                float(random.uniform(0.1, 1.2)), float(random.uniform(0.5, 15)), float(random.uniform(0.0, 0.6))) for _ in "xy"]
    teeth, rotor, pulley = int(random.integers(14, 45)), float(random.uniform(3e-6, 9e-5)), float(random.uniform(2e-7, 2e-5))
    efficiency, drag = (1.0, 0.0) if lossless else (float(random.uniform(0.85, 1.0)), DRAG)
    document = json.loads((VECTORS / "20-pair.json").read_text())
    for axis, run in zip(document["axes"], runs, strict=True):
        axis |= {"moving_mass": run.mass, "friction_force": run.friction, "readings": [], "cycle": [
            {"distance": sign * run.distance, "speed": run.speed, "acceleration": run.acceleration, "dwell": run.dwell}
            for sign in (1, -1)]}
        axis["train"][0] |= {"teeth": teeth, "inertia": pulley, "efficiency": efficiency, "drag_torque": drag}
        axis["motor"]["rotor_inertia"] = rotor
    project = parse_project(json.dumps(document).encode())
    machine = Machine(*runs, radius=teeth * 0.002 / (2 * math.pi), rotor=rotor, pulley=pulley, efficiency=efficiency, drag=drag)
    first, second = (solve_axis(project, axis) for axis in project.axes)
    return machine, (first, second)


def hardest(machine: Machine) -> np.ndarray:
    """Both axes at their top speed and acceleration, to both sides: the greatest torque of either motor."""
    tops = [np.array([[getattr(machine.x, what)], [getattr(machine.y, what)]]) for what in ("peak_speed", "acceleration")]
    senses = [np.array([[sign], [other]]) for sign in (1, -1) for other in (1, -1)]
    return np.abs(np.hstack([machine.torque(sense * tops[0], sense * tops[1]) for sense in senses])).max(axis=1)


def over_all_phases(machine: Machine, random: np.random.Generator) -> np.ndarray:
    """Mean square torque of A and of B [N²·m²], both cycles independent: any instant of one beside any of the other."""
    (v, a), (other_v, other_a) = machine.x.sampled(), machine.y.sampled()
    shuffled = [random.permutation(INSTANTS) for _ in range(12)]
    found = [machine.torque(np.stack([v, other_v[order]]), np.stack([a, other_a[order]])) for order in shuffled]
    return np.mean([np.mean(one**2, axis=1) for one in found], axis=0)


@pytest.mark.parametrize("lossless", [True, False])
def test_every_number_of_a_pair_is_that_of_its_lagrangian(lossless: bool) -> None:
    random = np.random.default_rng(24 + lossless)
    for _ in range(MACHINES // 2):
        machine, solutions = drawn(random, lossless)
        peak, masses = hardest(machine), machine.masses()
        assert peak[0] == pytest.approx(peak[1]), "towards the other side it is the other motor"
        fastest = float(np.abs(TURNS @ [machine.x.peak_speed, machine.y.peak_speed]).max() / machine.radius)
        square = over_all_phases(machine, random)
        for solution, run in zip(solutions, (machine.x, machine.y), strict=True):
            expected: dict[str, Any] = {
                "pair_peak_torque": peak[0], "peak_torque": peak[0], "pair_peak_speed": fastest, "peak_speed": fastest,
                "load_inertia_at_motor": masses[0, 0] - machine.rotor, "inertia_ratio": masses[0, 0] / machine.rotor - 1,
                "moved_inertia": run.mass, "pulse_rate": fastest * machine.radius / float(solution["step_length"]),
                "working_margin": float(np.asarray(solution["torque_curve"](np.array([fastest])))[0]) / peak[0]}
            for name, value in expected.items():
                assert float(solution[name]) == pytest.approx(value, rel=1e-9), name
            rms = float(solution["rms_torque"]) ** 2
            if lossless:
                assert rms == pytest.approx(square.max(), rel=0.03), "all instants of both cycles side by side"
            else:  # the drag and the losses of both are counted as if each axis had them alone
                assert 0.97 * square.max() <= rms <= 1.6 * square.max()
        one, other = (float(solution["pair_share"]) for solution in solutions)
        alone = [float(np.abs(machine.torque(np.array([[v], [w]]), np.array([[a], [b]]))).max()) for v, w, a, b in (
            (machine.x.peak_speed, 0, machine.x.acceleration, 0), (0, machine.y.peak_speed, 0, machine.y.acceleration))]
        assert (1 - one, 1 - other) == pytest.approx((alone[0] / peak[0], alone[1] / peak[0]), rel=1e-9)


def test_the_modes_of_both_axes_are_those_of_two_rotors_two_belts_and_two_masses() -> None:
    """Four masses at once: the eigenvalues of the whole are the two of X and the two of Y."""
    random = np.random.default_rng(4)
    for _ in range(20):
        machine, solutions = drawn(random, True)
        r, k = machine.radius, float(solutions[0]["train_stiffness"])
        field = float(solutions[0]["rotor_teeth"] * solutions[0]["set_torque"])
        belts = np.hstack([np.eye(2) * r, -TURNS])  # how far each belt is stretched by θ_A, θ_B, x, y
        stiffness = k * belts.T @ belts + np.diag([field, field, 0, 0])
        inertia = np.diag([machine.rotor + machine.pulley] * 2 + [machine.x.mass, machine.y.mass])
        found = np.sqrt(eigh(stiffness, inertia, eigvals_only=True)) / (2 * math.pi)
        said = sorted(float(one) for solution in solutions for one in solution["axis_modes"])
        assert said == pytest.approx(found, rel=1e-6)
