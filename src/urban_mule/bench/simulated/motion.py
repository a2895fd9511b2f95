"""One axis integrated in time: what it does follows from what it is, and nothing is planted.

Two phases under a limited voltage turn the rotor on its field, or a loop holds a servo's; a spring with play carries the load,
which friction, a cable and a frame hold. Compiled by numba: a compiler that comes as a package needs no tool chain on the user's
machine, as an extension of our own would. Where it cannot be installed the same loop runs as plain Python, a hundred times slower.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from urban_mule.bench.simulated.body import Mechanism
from urban_mule.core.sheet.record import record

try:
    from numba import njit
    _compiled: Callable[..., Any] = njit(cache=True, fastmath=True)
except ImportError:
    def _compiled(plain: Callable[..., Any]) -> Callable[..., Any]:
        return plain

RATE = 1600  # Hz: how often what it does is written down
STEP = 1 / (32 * RATE)  # s
GENTLE_STEP = 1 / (8 * RATE)  # s: of moves so slow that currents follow at once
TRACKING = 2 * math.pi * 1200  # 1/s: how fast the driver brings a current to where it is commanded
RINGS = 0.004  # damping ratio with which modes are looked at
SETTLES = 0.4  # s that it is left alone after a move
FALLEN = 0.95  # share of its speed below which a motor has fallen out
SLIPPED = 2.0  # full steps between field and rotor from which steps are lost
IRON = 1.0  # rad/s: below it the drag of a motor's iron fades, so that it holds nothing while it stands
CABLE_TAKES_UP = 4e-4  # share of its way over which a dragged cable turns round
RESETS = 20.0  # 1/s: how fast a servo's loop takes up what is left
QUIET = 0.03  # s that all of it is to be slow before it counts as at rest
PARTS = 14
ANGLE, TURNING, PLACE, MOVING, ALONG, ACROSS, FRAME, FRAME_MOVING, CABLE, WOUND, FILTERED, DRIVEN, *_NOTCHED = range(PARTS)
LATE = 256  # steps that a torque command may be delayed by
COLUMNS = 6


@dataclass
class State:
    """What moves, as it is now: numbers by their names above, where the field was commanded to, as travel of the load, and the
    torque commands of a servo that its drive has not carried out yet [N·m].
    """

    parts: np.ndarray = field(default_factory=lambda: np.zeros(PARTS))
    commanded: float = 0.0
    late: np.ndarray = field(default_factory=lambda: np.zeros(LATE))

    def copy(self) -> State:
        """The same once more."""
        return State(self.parts.copy(), self.commanded, self.late.copy())

    @property
    def place(self) -> float:
        """Where the load is, as the guide sees it [travel]."""
        return float(self.parts[PLACE])


@record(frozen=True)
class Swing:
    """What an axis did: times [s], where its load was [travel], how fast it and the frame were [travel/s], the steps it lost, in
    full steps, and whether it came to rest; where its motor was, as travel, how fast, and the torque that turned it [N·m].
    """

    time: np.ndarray
    position: np.ndarray
    speed: np.ndarray
    frame_speed: np.ndarray
    lost_steps: int
    quiet: bool
    motor: np.ndarray
    motor_speed: np.ndarray
    torque: np.ndarray


def at_rest(body: Mechanism) -> State:
    """The axis standing at the beginning of its travel; what hangs lies on one side of its play."""
    state = State()
    side = math.copysign(body.clearance / 2, body.weight) if body.weight else 0.0
    state.parts[PLACE] = -body.weight / body.train_stiffness - side
    state.parts[ALONG] = body.current_peak
    return state


def ramps(distance: float, speed: float, acceleration: float, step: float, after: float) -> np.ndarray:
    """Where a move without limited jerk is commanded to be, in the middle of each step, and for a while after it [travel]."""
    far = abs(distance)
    ramp = min(speed / acceleration, math.sqrt(far / acceleration))
    top = acceleration * ramp
    brakes = far / top if top else 0.0
    places = np.empty(int((brakes + ramp + after) / step))
    _ramped(places, math.copysign(1.0, distance), far, acceleration, ramp, brakes, step)
    return places


def through_shaper(places: np.ndarray, shaper: Iterable[tuple[float, float]], step: float) -> np.ndarray:
    """Places [travel] as impulses, each a time [s] and a share, make them of a command that then stays where it is."""
    delays = [(round(time / step), share) for time, share in shaper]
    made = np.zeros(places.size + max(delay for delay, _ in delays))
    for delay, share in delays:
        made[delay:delay + places.size] += share * places
        made[delay + places.size:] += share * places[-1]
    return made


def moved(body: Mechanism, distance: float, speed: float, acceleration: float) -> Swing:
    """A move from rest to rest, and what comes after it.

    distance [travel], speed [travel]/s, acceleration [travel]/s².
    """
    return integrated(body, at_rest(body), ramps(distance, speed, acceleration, STEP, SETTLES))


def loses_steps_in(body: Mechanism, distance: float, speed: float, acceleration: float, dwell: float, times: int = 5) -> bool:
    """Whether a cycle out and back loses steps within so many times; each move begins as the one before has left it."""
    state = at_rest(body)
    return any(integrated(body, state, ramps(way * distance, speed, acceleration, STEP, dwell)).lost_steps != 0
               for _ in range(times) for way in (1.0, -1.0))


def kicked(body: Mechanism, duration: float = 1.5) -> Swing:
    """The axis standing at its set current, its load struck and its rotor too: both of its modes ring. Friction is left out, since
    what sticks does not ring."""
    free = replace(body, friction=0.0, drag_torque=0.0, turning_friction=0.0, weight=0.0, clearance=0.0, train_efficiency=1.0,
                   back_efficiency=1.0, rotor_damping=RINGS, train_damping=RINGS)
    state, kick = at_rest(free), 1e-3 * free.travel_per_radian
    state.parts[TURNING], state.parts[MOVING] = kick / free.travel_per_radian, -0.1 * kick  # against each other
    return integrated(free, state, np.zeros(int(duration / STEP)))


def pulled_out(body: Mechanism, motor_speed: float, seconds: float = 1.5) -> float:
    """The torque [N·m] at which a motor that runs at this speed [rad/s] falls out, a load growing slowly; its drag taken off."""
    r, most = body.travel_per_radian, 1.2 * body.torque_constant * body.current_peak
    light = body.turning_inertia / r**2  # so that it falls out when it cannot hold, not when its momentum is used up
    bare = replace(body, friction=0.0, weight=0.0, clearance=0.0, turning_friction=0.0, train_efficiency=1.0, back_efficiency=1.0,
                   moved_inertia=light)
    held, gentle = 1.0 + seconds, motor_speed * r / 0.6
    places = ramps(motor_speed * r * (held + 10), motor_speed * r, gentle, STEP, 0.0)[:int(held / STEP)]
    pushes = -most / r / seconds * np.maximum((np.arange(places.size) + 0.5) * STEP - 1.0, 0.0)
    swing = integrated(bare, at_rest(bare), places, pushes)
    behind = np.flatnonzero(swing.speed < FALLEN * motor_speed * r)
    fell = behind[swing.time[behind] > 1.0]
    return float(most / seconds * (swing.time[fell[0]] - 1.0)) if fell.size else math.nan


def integrated(body: Mechanism, state: State, places: np.ndarray, pushes: np.ndarray | None = None, step: float = STEP,
               quiet: float = 0.0) -> Swing:
    """The axis from its state on, which it leaves as it is then.

    places: where its field is commanded to be from where it was, in the middle of each step [travel]; pushes: what a hand pushes
    with towards plus [effort]. quiet: it ends early when all of it is slower than this, as travel of the load [travel/s].
    """
    every = round(1 / RATE / step)
    out = np.empty((places.size // every + 1, COLUMNS))
    field_stiffness = body.rotor_teeth * body.torque_constant * body.current_peak
    whole = body.turning_inertia + body.moved_inertia * body.travel_per_radian**2
    stiffness = body.loop_stiffness or field_stiffness
    rotor = 2 * body.rotor_damping * math.sqrt(stiffness * whole) if not body.loop_stiffness else 1.4 * math.sqrt(stiffness * whole)
    train = 2 * body.train_damping * math.sqrt(body.train_stiffness * body.moved_inertia)
    before = state.parts[PLACE]
    numbers = np.array([*body.numbers, rotor, train, TRACKING, IRON])
    pushing = np.zeros_like(places) if pushes is None else pushes
    slipped, done = _loop(numbers, state.parts, step, every, state.commanded + places, pushing, quiet, out, state.late)
    state.commanded += float(places[-1]) if places.size else 0.0
    rows = out[:done // every]
    full_steps = slipped * 2 / math.pi
    lost = 0 if abs(full_steps) < SLIPPED or body.loop_stiffness else int(4 * round(full_steps / 4))
    return Swing(np.arange(1, len(rows) + 1) / RATE, rows[:, 0] - before, rows[:, 1], rows[:, 2], lost, done < places.size,
                 rows[:, 3], rows[:, 4], rows[:, 5])


@_compiled
def _ramped(places, way, far, acceleration, ramp, brakes, step):  # type: ignore[no-untyped-def]
    """The places of a move: up, even, down, and then where it was sent."""
    top = acceleration * ramp
    for n in range(len(places)):
        t = (n + 0.5) * step
        left = brakes + ramp - t
        if left <= 0.0:
            places[n] = way * far
        elif t < ramp:
            places[n] = way * acceleration * t * t / 2
        elif t < brakes:
            places[n] = way * (acceleration * ramp * ramp / 2 + top * (t - ramp))
        else:
            places[n] = way * (far - acceleration * left * left / 2)


@_compiled
def _slowed(speed, pull, friction, mass, dt):  # type: ignore[no-untyped-def]
    """The speed after a step under a pull and dry friction, which holds whatever it can."""
    if speed == 0.0 and abs(pull) <= friction:
        return 0.0
    held = friction if speed > 0 or (speed == 0.0 and pull > 0) else -friction
    after = speed + dt * (pull - held) / mass
    return 0.0 if after * speed < 0 and abs(pull) <= friction else after


@_compiled
def _loop(numbers, state, dt, every, places, pushes, quiet, out, late):  # type: ignore[no-untyped-def]
    """The whole of it by fixed steps, speeds before places; gives the electrical angle of the field ahead of the rotor [rad], and
    how many steps were made."""
    (k_t, teeth, resistance, inductance, current, voltage, inertia, mass, r, stiffness, drag, clearance, growth, efficiency, back,
     turning_friction, friction, viscous, weight, cable_force, cable_from, cable_over, _, _, frame_mass, frame_frequency,
     frame_damping, loop_stiffness, limit, velocity_gain, velocity_integral, position_gain, feedforward, current_time, filter_time,
     loop_delay, notch, notch_width, notch_depth, rotor_damping, train_damping, tracking, iron) = numbers
    angle, turning, place, moving, i_d, i_q, frame, frame_moving, cable, wound, filtered, driven, z_1, z_2 = state
    delay, turn = min(max(round(loop_delay / dt), 0), len(late) - 1), 0
    b_0, b_1, b_2, a_2 = 1.0, 0.0, 0.0, 0.0
    if notch > 0.0:  # by the bilinear transform, its middle kept
        k, wide = notch / math.tan(notch * dt / 2), notch_width * notch
        whole = k * k + wide * k + notch * notch
        b_0 = (k * k + notch_depth * wide * k + notch * notch) / whole
        b_2 = (k * k - notch_depth * wide * k + notch * notch) / whole
        b_1, a_2 = 2 * (notch * notch - k * k) / whole, (k * k - wide * k + notch * notch) / whole
    takes_up, follows = dt / (filter_time + dt), dt / (current_time + dt)
    decays = resistance * dt / (2 * inductance)
    rubs, passes = (1 / efficiency - back) / 2, (1 / efficiency + back) / 2  # of a force in the train: what rubs, what gets through
    frame_stiffness = frame_mass * (2 * math.pi * frame_frequency) ** 2
    frame_drag = 2 * frame_damping * frame_mass * 2 * math.pi * frame_frequency
    per_travel, per_inductance, brings = teeth / r, dt / inductance, inductance * tracking
    last, still, waits, n = angle, 0, int(QUIET / dt), 0
    while n < len(places):
        before, following = max(n - 1, 0), min(n + 1, len(places) - 1)
        pace = (places[following] - places[before]) / (max(following - before, 1) * dt)
        paced = per_travel * pace
        if velocity_gain > 0.0:
            off = position_gain * (places[n] / r - angle) + feedforward * pace / r - turning
            command = velocity_gain * (off + wound / velocity_integral)
            if abs(command) > limit:
                command = math.copysign(limit, command)
            else:
                wound += dt * off
            late[turn] = b_0 * command + z_1
            z_1, z_2 = b_1 * (command - late[turn]) + z_2, b_2 * command - a_2 * late[turn]
            filtered += takes_up * (late[(turn - delay) % len(late)] - filtered)
            driven += follows * (filtered - driven)
            turn = (turn + 1) % len(late)
            torque = driven
        elif loop_stiffness > 0.0:
            off = places[n] / r - angle
            wound += dt * off
            torque = loop_stiffness * (off + RESETS * wound) - rotor_damping * (turning - paced / teeth)
            if abs(torque) > limit:
                wound -= dt * off
                torque = math.copysign(limit, torque)
        else:  # in the frame of the rotor, in the middle of the step: at speed it turns by 0.2 rad in one
            middle = angle + turning * dt / 2
            turned = teeth * (middle - last)
            last = middle
            square = turned * turned
            c, s = 1 - square / 2 * (1 - square / 12), turned * (1 - square / 6 * (1 - square / 20))
            i_d, i_q = c * i_d + s * i_q, c * i_q - s * i_d
            ahead = per_travel * places[n] - teeth * middle
            want_d, want_q = current * math.cos(ahead), current * math.sin(ahead)
            e_q = k_t * turning
            v_d = resistance * want_d - inductance * want_q * paced + brings * (want_d - i_d)
            v_q = resistance * want_q + inductance * want_d * paced + e_q + brings * (want_q - i_q)
            square = v_d * v_d + v_q * v_q
            if square > voltage * voltage:
                kept = voltage / math.sqrt(square)
                v_d, v_q = v_d * kept, v_q * kept
            was = i_q
            i_d = (i_d * (1 - decays) + per_inductance * v_d) / (1 + decays)
            i_q = (i_q * (1 - decays) + per_inductance * (v_q - e_q)) / (1 + decays)
            torque = k_t * (i_q + was) / 2 - rotor_damping * (turning - paced / teeth)
        half = (clearance + growth * place) / 2
        apart = r * angle - place
        if apart > half:
            force = max(stiffness * (apart - half) + train_damping * (r * turning - moving), 0.0)
        elif apart < -half:
            force = min(stiffness * (apart + half) + train_damping * (r * turning - moving), 0.0)
        else:
            force = 0.0
        along = drag * min(max(turning / iron, -1.0), 1.0)
        turning = _slowed(turning, torque - along - force * r * passes, abs(force) * r * rubs + turning_friction, inertia, dt)
        angle += dt * turning
        pull = force - weight + pushes[n] - viscous * moving
        if cable_force > 0.0 and place > cable_from:
            cable += moving * dt * (1 - cable * math.copysign(1.0, moving)) / (cable_over * CABLE_TAKES_UP)
            pull -= cable_force * cable * min((place - cable_from) / (cable_over - cable_from), 1.0)
        if frame_mass > 0.0:
            shoved = (-force - frame_stiffness * frame - frame_drag * frame_moving) / frame_mass
            frame_moving += dt * shoved
            frame += dt * frame_moving
            pull -= mass * shoved
        moving = _slowed(moving, pull, friction, mass, dt)
        place += dt * moving
        n += 1
        if n % every == 0:
            row = n // every - 1
            out[row, 0], out[row, 1], out[row, 2] = place, moving, frame_moving
            out[row, 3], out[row, 4], out[row, 5] = r * angle, r * turning, torque
        still = still + 1 if abs(moving) < quiet and abs(r * turning) < quiet and abs(pace) < quiet else 0
        if still > waits:
            break
    late[:] = np.roll(late, -turn)
    state[:] = np.array([angle, turning, place, moving, i_d, i_q, frame, frame_moving, cable, wound, filtered, driven, z_1, z_2])
    return (per_travel * places[n - 1] - teeth * angle if n else 0.0), n
