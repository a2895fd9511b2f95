"""How the axis swings with a stepper: its field is a spring in a row with the train, so that both turn and travel swing."""

from __future__ import annotations

import math

import numpy as np

from urban_mule.core.sheet.given import Reals
from urban_mule.core.sheet.quantity import NotKnown, quantity
from urban_mule.core.train.fold import torque_into_train
from urban_mule.core.train.link import Link

STEP_ERROR = 0.05  # of a full step
BAND = 0.3  # half the width of the speeds that resonate, as a share
TWO_MASSES = "two masses and two springs; S. Timoshenko, Vibration Problems in Engineering"


def modes_on_field(
    field_stiffness: Reals, turning_inertia: Reals, moved_inertia: Reals, motor_count: Reals, travel_per_radian: Reals,
    train_stiffness: Reals = None,
) -> list[Reals]:
    """Frequencies [Hz], rising, of n rotors on their fields and the load on its trains; one where the trains are rigid.

    field_stiffness k_θ [N·m/rad], turning_inertia J_s of one motor [kg·m²], moved_inertia m [kg or kg·m²], train_stiffness k of one
    train [effort/travel]. K v = λ M v with M = diag(n·J_s, m), K = [[n·k_θ + n·k·r², −n·k·r], [−n·k·r, n·k]].
    """
    n, r = motor_count, travel_per_radian
    if train_stiffness is None:
        return [np.sqrt(n * field_stiffness / (n * turning_inertia + moved_inertia * r**2)) / (2 * math.pi)]
    rotor = (field_stiffness + train_stiffness * r**2) / turning_inertia
    load = n * train_stiffness / moved_inertia
    half = (rotor + load) / 2
    product = load * field_stiffness / turning_inertia
    upper = half + np.sqrt(half**2 - product)
    return [np.sqrt(product / upper) / (2 * math.pi), np.sqrt(upper) / (2 * math.pi)]


@quantity("Hz", symbol="f_1, f_2", source=TWO_MASSES, formula="√λ/2π of K·v = λ·M·v, the field a spring p·T_set",
          label="Resonances with the motor")
def axis_modes(
    rotor_teeth: Reals, set_torque: Reals, turning_inertia: Reals, moved_inertia: Reals, motor_count: Reals,
    travel_per_radian: Reals, train_stiffness: Reals = None,
) -> list[Reals]:
    """The resonances of the axis while it moves, at the set current; set_torque [N·m], turning_inertia [kg·m²]."""
    return modes_on_field(rotor_teeth * set_torque, turning_inertia, moved_inertia, motor_count, travel_per_radian, train_stiffness)


@quantity("Hz", symbol="f_1, f_2", source=TWO_MASSES, formula="as while moving, the field h times as stiff",
          label="Resonances while idle")
def axis_modes_idle(
    rotor_teeth: Reals, set_torque: Reals, hold_fraction: Reals, turning_inertia: Reals, moved_inertia: Reals, motor_count: Reals,
    travel_per_radian: Reals, train_stiffness: Reals = None,
) -> list[Reals]:
    """The resonances of the axis while it stands at its idle current. Raises NotKnown without any."""
    if np.all(np.asarray(hold_fraction) == 0):
        raise NotKnown("no current holds the idle axis")
    field = rotor_teeth * set_torque * hold_fraction
    return modes_on_field(field, turning_inertia, moved_inertia, motor_count, travel_per_radian, train_stiffness)


@quantity("Hz", symbol="f_1", source=TWO_MASSES, label="First resonance")
def first_resonance(axis_modes: list[Reals]) -> Reals:
    """The lowest resonance of the moving axis [Hz]; axis_modes [Hz]."""
    return axis_modes[0]


@quantity("[travel]/s", symbol="v_−, v_+", formula="α·r·f_1·(1 ∓ 0.3)", label="Speeds that resonate",
          source="full steps at the first resonance; half-power width of a rotor damped by 10 %, and its field known to 10 %")
def resonant_band(first_resonance: Reals, step_angle: Reals, travel_per_radian: Reals) -> list[Reals]:
    """Between which speeds its own steps ring the axis; first_resonance [Hz], step_angle [rad], travel_per_radian [travel/rad]."""
    middle = first_resonance * step_angle * travel_per_radian
    return [(1 - BAND) * middle, (1 + BAND) * middle]


@quantity("", symbol="c_m", source="compliances in a row add", formula="(r²/k_θ) ÷ (r²/k_θ + 1/k)", shown="%",
          label="Share of the motor's field in the compliance")
def rotor_compliance_share(
    rotor_teeth: Reals, set_torque: Reals, travel_per_radian: Reals, train_stiffness: Reals
) -> Reals:
    """How much of what gives way between field and load is the motor's field; set_torque [N·m], train_stiffness [effort/travel]."""
    field = travel_per_radian**2 / (rotor_teeth * set_torque)
    return field / (field + 1 / train_stiffness)


MORE_CURRENT, STIFFER = 1.25, 2.0  # what is tried on either spring


@quantity("Hz", symbol="", source=TWO_MASSES, structure=True, formula="f_1 with a quarter more current, and with the train twice as"
          " stiff", label="What would move the resonance")
def resonance_levers(
    rotor_teeth: Reals, set_torque: Reals, turning_inertia: Reals, moved_inertia: Reals, motor_count: Reals,
    travel_per_radian: Reals, train_stiffness: Reals,
) -> dict[str, Reals]:
    """The first resonance [Hz] with more current, and with a stiffer train: which of the two springs is worth changing."""
    around = turning_inertia, moved_inertia, motor_count, travel_per_radian
    field = rotor_teeth * set_torque
    return {"current": modes_on_field(MORE_CURRENT * field, *around, train_stiffness)[0],
            "train": modes_on_field(field, *around, STIFFER * train_stiffness)[0]}


def train_stiffness_of(
    frequency: Reals, field_stiffness: Reals, turning_inertia: Reals, moved_inertia: Reals, motor_count: Reals,
    travel_per_radian: Reals,
) -> Reals:
    """The stiffness of one train with which the axis has its lowest resonance here, the field taken out; frequency [Hz].

    Raises NotKnown where the field alone is too soft for it: then no train is stiff enough.
    """
    square = (2 * math.pi * frequency) ** 2
    left = field_stiffness - square * turning_inertia
    bearing = motor_count * left - square * moved_inertia * travel_per_radian**2
    if left <= 0 or bearing <= 0:
        raise NotKnown("with this motor's field no train is stiff enough for it")
    return square * moved_inertia * left / bearing


@quantity("[travel]", symbol="B_e", source="play, the part of the wind-up that stays, and the motor's lag", shown=("µm", ""),
          formula="play + w·wind-up + lag of the motor", label="Expected lost motion")
def expected_lost_motion(
    predicted_lost_motion: Reals, play_at_reversal: Reals, windup_share: Reals, reversal_lag: Reals
) -> Reals:
    """Lost motion at a reversal as a gauge will show it; lengths [travel], windup_share: what stays of the wind-up."""
    return play_at_reversal + windup_share * (predicted_lost_motion - play_at_reversal) + reversal_lag


@quantity("[travel]", symbol="x_d", source="the drag of the train holds the motor until it is overcome, either way",
          shown=("µm", ""), formula="2·T_d·r ÷ (p·h·T_set), T_d the drag of the train at the motor",
          label="Play hidden from a push by drag")
def play_hidden_by_drag(
    rotor_teeth: Reals, set_torque: Reals, hold_fraction: Reals, travel_per_radian: Reals, train: tuple[Link, ...]
) -> Reals:
    """By how much less travel a push both ways shows, since the train's own drag holds the motor; set_torque [N·m]."""
    return 2 * torque_into_train(train, 0.0, 1.0, 0.0) * travel_per_radian / (rotor_teeth * hold_fraction * set_torque)


@quantity("[travel]", symbol="e_s", source="what data sheets promise of a stepper without load: 5 % of a full step",
          formula="0.05·α·r", label="Error of a step", shown=("µm", ""))
def step_error(step_angle: Reals, travel_per_radian: Reals) -> Reals:
    """How far the rotor stands off its place at rest; step_angle [rad], travel_per_radian [travel/rad]."""
    return STEP_ERROR * step_angle * travel_per_radian
