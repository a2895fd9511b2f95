"""What was made before, kept for whoever asks again: as many as there is room for, those that were used last."""

from __future__ import annotations

from collections.abc import Hashable
from typing import Generic, TypeVar

Key = TypeVar("Key", bound=Hashable)
Value = TypeVar("Value")


class LastUsed(Generic[Key, Value]):
    """Values by their keys. Two threads that make the same both may: the later one is kept.

    most: how many are kept; the one that nobody used for longest goes first.
    """

    def __init__(self, most: int) -> None:
        self._most = most
        self._kept: dict[Key, Value] = {}

    def __bool__(self) -> bool:
        return bool(self._kept)

    def get(self, key: Key) -> Value | None:
        """The value, which then is the last to go; None where none is kept."""
        value = self._kept.pop(key, None)
        if value is not None:
            self._kept[key] = value
        return value

    def keep(self, key: Key, value: Value) -> None:
        """Keep a value, and let go what there is no more room for."""
        self._kept.pop(key, None)
        self._kept[key] = value
        while len(self._kept) > self._most:
            self._kept.pop(next(iter(self._kept)), None)
