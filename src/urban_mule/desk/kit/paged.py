"""As many of many things as can be read: the page that holds the one looked at."""

from __future__ import annotations

LEAD = "; the plates on the left lead to the others."


def page_with(place: int, count: int, fit: float) -> range:
    """The places of a page of `fit` things, one at least, that holds `place`."""
    size = max(1, int(fit))
    first = place // size * size
    return range(first, min(first + size, count))


def page_said(what: str, page: range, count: int) -> str:
    """Which of them are shown; nothing where all are."""
    return "" if len(page) >= count else f"{what} {page.start + 1} to {page.stop} of {count}{LEAD}"
