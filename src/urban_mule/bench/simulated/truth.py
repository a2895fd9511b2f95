"""What no sheet says of a simulated machine, and what one shows on a short move."""

from __future__ import annotations

from urban_mule.core.sheet.record import record

MOVES, BUZZES, RACKS = "moves", "buzzes", "racks"
EXCHANGED, CROSSES, ASKEW = "exchanged", "crosses", "askew"  # of two axes that two motors move together


@record(frozen=True)
class Frame:
    """What carries the guides and swings too. mass: times what the axis moves; 0 for one that gives no way; frequency [Hz];
    weights: how much of it a sensor on the carriage sees in each direction.
    """

    mass: float = 14.0
    frequency: float = 71.0
    damping_ratio: float = 0.035
    weights: tuple[float, ...] = (1.0, 1.6, 0.4)


@record(frozen=True)
class Truth:
    """What no sheet says of the machine. Lengths in m (or rad)."""

    seed: int = 1
    looseness: float = 0.0  # play where a pulley or pinion turns on its shaft, at the load
    clearance_wear: float = 0.0  # growth of the clearance from one end of the travel to the other
    periodic_error: float = 2e-6  # amplitude, one period a motor turn
    bow: float = 0.0  # greatest departure from a straight line, mid-travel
    scatter: float = 1e-6  # of the place where it comes to rest
    indicator_noise: float = 0.4e-6
    indicator_resolution: float = 1e-6
    frame: Frame = Frame()
    rotor_damping: float = 0.06  # ratio of the rotor's swing about its field
    train_damping: float = 0.03
    sensor_noise: float = 0.03  # m/s²
    lost_samples: int = 0
    homing_scatter: float = 1.5e-6
    warm_growth: float = 0.0  # of the whole travel, when warm
    warm_time: float = 1500.0  # s, time constant of warming where the project does not say it
    case_share: float = 0.85  # of the thermal resistance, up to the case; the winding is warmer
    cable_force: float = 0.0  # N with which a dragging cable holds it back at the plus end; nothing up to mid-travel
    indicator_sign: float = 1.0  # -1: the indicator counts the other way
    shows: str = MOVES  # what is seen and heard on a short move


SOUND = Truth(periodic_error=0.0, scatter=0.0, indicator_noise=0.0, indicator_resolution=1e-9, frame=Frame(0.0), sensor_noise=0.0,
              homing_scatter=0.0)  # nothing hidden and no noise
