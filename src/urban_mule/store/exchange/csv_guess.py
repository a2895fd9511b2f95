"""How a table of another layout is most likely read: its signs, its first row of numbers, what its headings say."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Iterator
from dataclasses import replace

from urban_mule.core.readings.kinds import reading_kinds
from urban_mule.store.exchange.csv_mapping import (
    CLOCK,
    COMMENT,
    DELIMITERS,
    LONGEST_NUMBER,
    NUMBER,
    PLACED,
    UNSAID,
    Mapping,
    known_unit,
    lacking,
    lines_of,
    name_and_unit,
    plain_number,
    roles,
    seconds_of,
    split,
    units_of,
)
from urban_mule.store.exchange.csv_readings import DIRECTION
from urban_mule.store.text_files import BadFile

NOTHING = -100  # how well a kind fits a table of which no heading says anything
LOOKED_AT = 200  # lines that a guess is made from, at either end
WORDS: dict[str, tuple[str, ...]] = {  # of a heading, beside the name of the role itself
    "target": ("nominal", "commanded", "command", "position", "pos", "set", "goal"),
    "commanded": ("target", "nominal", "command", "set", "asked", "position", "cmd", "setpoint", "reference"),
    "actual": ("act", "feedback", "measured", "encoder", "real"), "torque": ("moment", "trq"), "acceleration": ("acc",),
    "measured": ("actual", "reached", "true", "real", "length", "found"),
    PLACED: ("actual", "reached", "measured", "real"),
    "deviation": ("error", "dev", "reading", "indicator", "dial", "difference", "gauge"),
    "place": ("reading", "indicator", "dial", "deviation", "gauge", "deflection"),
    "direction": ("dir", "approach", "side", "way"), "repeat": ("run", "cycle", "series", "no", "pass"),
    "up": ("forward", "rising", "upward", "from below"), "down": ("backward", "back", "falling", "reverse", "downward"),
    "plus": ("forward", "push"), "minus": ("backward", "pull"),
    "time": ("t", "clock", "timestamp", "when", "elapsed"), "values": ("x", "y", "z", "acc", "acceleration", "ax", "ay", "az"),
    "force": ("load", "pull"), "temperature": ("temp",), "speed": ("velocity", "feed", "v"), "spacing": ("pitch", "distance"),
    "heights": ("height", "width", "waviness"),
}


def decoded(raw: bytes) -> str:
    """The text of a table, whatever wrote it: UTF-8, UTF-16 with its mark, else the old Western set. Raises BadFile."""
    if raw.startswith((b"\xff\xfe", b"\xfe\xff")):
        try:
            return raw.decode("utf-16")
        except UnicodeDecodeError as why:
            raise BadFile(f"byte {why.start}: this is not UTF-16 text.") from None
    if b"\x00" in raw[:4096]:
        raise BadFile(f"byte {raw.index(0)}: this is no text.")
    try:
        return raw.decode("utf-8-sig")
    except UnicodeDecodeError:
        return raw.decode("cp1252", errors="replace")


def _numeric(cell: str) -> bool:
    found = NUMBER.match(cell.strip()[:LONGEST_NUMBER])
    unit = "" if found is None else found["unit"] or ""
    return (found is not None and (not unit or bool(known_unit(unit)) or f" {unit}" in cell)) or seconds_of(cell) is not None


def _tells(cells: list[str]) -> bool:
    """Whether a line looks as numbers do: at least half of what stands in it, and one."""
    said = [cell for cell in cells if cell]
    count = sum(map(_numeric, said))
    return count > 0 and 2 * count >= len(said)


def _goes_on(cells: list[str], told: set[int]) -> bool:
    """Whether a line has numbers where the first row of numbers has them; a word there begins what stands below a table."""
    return _tells(cells) and all(not cell or _numeric(cell) for place, cell in enumerate(cells) if place in told)


def guess(text: str, kinds: tuple[str, ...]) -> Mapping:
    """How a table is most likely read, as one of these kinds. Raises BadFile for a text without a row of numbers."""
    every = list(lines_of(text))
    looked = every[:LOOKED_AT]
    plain = [(number, line) for number, line in looked if not COMMENT.match(line)]
    delimiter, wide = _delimiter(line for _, line in plain)
    rows = [(number, cells) for number, line in plain if len(cells := split(line, delimiter)) >= wide and _tells(cells)]
    if not rows:
        raise BadFile("line 1: there is no row of numbers.")
    first = rows[0][0]
    names, units = _headings([line for number, line in looked if number < first], delimiter, wide)
    told = {place for place, one in enumerate(rows[0][1]) if _numeric(one)}
    last = next((number for number, line in reversed(every) if COMMENT.match(line) or _goes_on(split(line, delimiter), told)), 0)
    found = Mapping(kinds[0], delimiter, _decimal(cells for _, cells in rows), first, 0 if last == every[-1][0] else last,
                    headings=tuple(names))
    return max((as_kind(found, kind, units, rows[0][1]) for kind in kinds), key=lambda one: (_fit(one), -kinds.index(one.kind)))


def _delimiter(lines: Iterable[str]) -> tuple[str, int]:
    """The sign between the cells, and how many cells most rows of numbers have."""
    kept, best = list(lines), (0.0, ",", 1)
    for delimiter in DELIMITERS:
        every = [split(line, delimiter) for line in kept]
        places = [place for place, cells in enumerate(every) if _tells(cells)]
        if not places:
            continue
        wide = Counter(len(every[place]) for place in places).most_common(1)[0][0]
        score = sum(sum(not cell or _numeric(cell) for cell in every[place]) / wide for place in places
                    if len(every[place]) == wide)
        headed = places[0] > 0 and len(every[places[0] - 1]) == wide  # a heading names as many columns as there are
        score *= (1.5 if wide > 1 else 1.0) * (2.0 if headed else 1.0)
        if score > best[0]:
            best = (score, delimiter, wide)
    return best[1], best[2]


def _decimal(rows: Iterable[list[str]]) -> str:
    cells = [cell for row in rows for cell in row if NUMBER.match(cell[:LONGEST_NUMBER])]
    if any("," in cell and plain_number(cell, ".") is None for cell in cells):
        return ","
    return "." if any("." in cell for cell in cells) or not any("," in cell for cell in cells) else ","


def _headings(lines: list[str], delimiter: str, wide: int) -> tuple[list[str], list[str]]:
    """The names of the columns and their units, from the lines above the numbers; empty where they do not say."""
    rows = [cells for line in lines if len(cells := split(COMMENT.sub("", line), delimiter)) == wide]
    if not rows:
        return [""] * wide, [""] * wide
    units = [known_unit(cell.strip("[]()")) for cell in rows[-1]]
    if len(rows) > 1 and any(units) and all(unit or not cell.strip("[]() -") for unit, cell in zip(units, rows[-1], strict=True)):
        return rows[-2], units
    told = [name_and_unit(cell) for cell in rows[-1]]
    return rows[-1], [unit for _, unit in told]


def as_kind(mapping: Mapping, kind: str, units: Iterable[str] = (), row: Iterable[str] = ()) -> Mapping:
    """The same table read as a kind of reading, its columns found anew. units: of the columns; row: the first of numbers."""
    units = list(units) or [name_and_unit(one)[1] for one in mapping.headings]
    known, cells, taken = roles(kind), list(row), set[str]()
    many = {"values", *(one.name for one in reading_kinds()[kind].columns if one.shape == "rows")}
    found: list[tuple[str, str]] = []
    for place, heading in enumerate(mapping.headings):
        name, _ = name_and_unit(heading)
        said = set(re.findall(r"[a-z]+", name.lower()))
        worded = place < len(cells) and bool(cells[place]) and not _numeric(cells[place])
        role = next((one for one in _by_likeness(known, said)
                     if (one in many or one not in taken) and (one == DIRECTION or not worded)), "")
        taken.add(role)
        unit = units[place]
        if role and known[role] == "s" and place < len(cells) and seconds_of(cells[place]) is not None:
            unit = CLOCK
        found.append((role, _fitting(kind, role, unit)))
    return replace(mapping, kind=kind, columns=tuple(found))


def _by_likeness(known: Iterable[str], said: set[str]) -> Iterator[str]:
    """The roles that a heading may name: by their own name first, then by other words for it."""
    for role in known:
        if said & ({role, f"{role}s"} | set(role.split("_"))):
            yield role
    for role in known:
        if said & set(WORDS.get(role, ())):
            yield role


def _fitting(kind: str, role: str, unit: str) -> str:
    """The unit where the role may be in it; unsaid where one is needed, and none where there is none."""
    allowed = units_of(kind, role) if role else ()
    return unit if unit in allowed else UNSAID if allowed else ""


def _fit(mapping: Mapping) -> int:
    """How well a kind fits a table: what it needs and finds, less what it lacks; where nothing is found, places are likeliest."""
    found = {role for role, _ in mapping.columns if role}
    if not found - {one.name for one in reading_kinds()[mapping.kind].columns if one.shape == "one" and not one.needed}:
        return NOTHING + bool(reading_kinds()[mapping.kind].sides)
    listed = {one.name for one in reading_kinds()[mapping.kind].columns if one.needed and one.shape == "list"}
    if len(found) == 1 and listed - found:
        return NOTHING  # one column alone, and what belongs beside it can be typed nowhere
    return 2 * len(found) - 3 * len(lacking(mapping))
