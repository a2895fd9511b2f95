"""The three devices of a measuring session. Lengths in m (or rad), times in s, accelerations in m/s² (or rad/s²)."""

from __future__ import annotations

from typing import Protocol

import numpy as np

RESTING = 0.6  # s of standstill recorded before and after a sweep
LONGEST_RECORD = 600.0  # s


class DeviceError(RuntimeError):
    """A device did not do what it was asked; says which and what to check."""


class Mover(Protocol):
    """What moves the axis."""

    def enable(self) -> None:
        """Power the motor; the axis holds its place from here on. Raises DeviceError."""

    def disable(self) -> None:
        """Take the power off the motor; what hangs falls. Raises DeviceError where it cannot."""

    def move(self, position: float) -> None:
        """Move to a commanded position and come to rest. Raises DeviceError outside the travel or while disabled.

        position: [travel].
        """

    def run(self, position: float, speed: float, acceleration: float) -> None:
        """Move there at a speed and an acceleration that may be more than the motor gives. Raises DeviceError.

        position, speed, acceleration: [travel], [travel]/s, [travel]/s².
        """

    def begin(self, position: float, speed: float, acceleration: float) -> None:
        """Begin to move there, and come back at once: a record runs meanwhile. Raises DeviceError.

        position, speed, acceleration: [travel], [travel]/s, [travel]/s².
        """

    def home(self) -> None:
        """Look for the switch and take it for the beginning of the travel. Raises DeviceError."""

    def shake(self, low: float, high: float, duration: float) -> None:
        """Begin an acceleration sweep from `low` to `high` Hz that lasts `duration` s. Raises DeviceError."""

    def stop(self) -> None:
        """Stop where it is. A convenience: it does not replace an emergency stop that removes power."""

    def position(self) -> float:
        """The commanded position."""


class Indicator(Protocol):
    """What reads a length: a dial indicator or a scale, zeroed at the commanded position."""

    def read(self) -> float:
        """How far the axis stands from where it was commanded to. Raises DeviceError."""


class Accelerometer(Protocol):
    """What records acceleration near the tool."""

    def record(self, duration: float) -> tuple[np.ndarray, np.ndarray]:
        """Times [s] and accelerations, one column a direction, from now on. Raises DeviceError."""


class Tracer(Protocol):
    """What follows a move as a drive does."""

    def trace(self, duration: float, of: str) -> tuple[np.ndarray, np.ndarray]:
        """Times [s], and in two columns what was commanded and what the encoder says of the move that was begun, from its
        beginning on. Raises DeviceError where it cannot.

        of: `position` [travel] or `speed` [travel/s]; or `torque`: speed of the shaft [rad/s] and torque of the motor [N·m].
        """


class BenchMachine(Tracer, Mover, Indicator, Accelerometer, Protocol):
    """What a plan is carried out on."""

    @property
    def practice(self) -> bool:
        """Whether its readings are made up."""

    def pause(self, seconds: float) -> None:
        """Let time pass beside the machine. Raises Cancelled."""

    def second(self, position: float) -> None:
        """Move the other axis of two to a position and come to rest. Raises DeviceError where there is none.

        position: [m].
        """

    def gauge(self, what: str, *values: float) -> float:
        """What the gauge shows that does not lie along the axis: `circle` x, y, radius: the change of a bar from the centre;
        `distance` x, y, x, y: between two marks; `square` or `straightness` place, first place: how far it is off beside an edge,
        towards plus of the axis across [m]. Raises DeviceError where there is no second axis.
        """

    def hand(self, what: str, *values: float) -> float:
        """Do what a person does beside a machine, and say what the tool in the hand shows; only a practice machine can.

        `push` effort: push and hold (0 lets go); `wait` seconds: let time pass; `tone` span, mass a metre: pluck the belt [Hz];
        `tap`: tap the carriage; `drag` lever arm: turn the shaft [N]; `ripple` speed, crest: look at a test piece, the spacing
        for crest 0, else its height; `shaper` time, share, …: set the
        controller's shaper for the move that is begun next; `gains` velocity gain, integral time, position gain: set them in
        the drive [N·m·s/rad, s, 1/s]; `warmth` what: touch the motor's case, moving (0) or holding (1), or
        the driver's fin (2) [°C]. Raises DeviceError.
        """
