"""A controller's own listing of its settings, read by the user's pattern: taught by pointing at one number, kept for the next time.

A pattern is a list of rules. A rule is a line of the listing with holes: which axis it speaks of, which number is wanted.
"""

from __future__ import annotations

import json
import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import asdict, fields
from pathlib import Path
from typing import Any

from urban_mule.core.sheet import units
from urban_mule.core.sheet.given import BadValue
from urban_mule.core.sheet.record import record
from urban_mule.store.places import data_place, made
from urban_mule.store.settings import Settable, SettingRow, is_same
from urban_mule.store.text_files import BadFile, from_file, safe_name, utf8, write_whole

LONGEST_LISTING, LONGEST_LINE, MOST_RULES = 2_000_000, 2000, 400
LONGEST_HEADING = 80
LETTER_BEFORE, LETTER_BEHIND = r"(?<![^\W\d_])", r"(?![^\W\d_])"  # an axis is a word of its own
BLANKS = r"\s*+"  # never given back, nor is a digit of a number: so a line is read in one way, or not, and at once
AXIS, NUMBER, OTHER, STRETCH = "{axis}", "{number}", "{other}", "{…}"
SIXTEEN = r"0[xX][0-9a-fA-F]+"  # a register as controllers often list it
SIGNS = {name: rf"(?:{SIXTEEN}|[+\-−]?(?:\d+(?:{sign}\d*)?|{sign}\d+)(?:[eE][+\-]?\d+)?)"
         for name, sign in (("point", r"\."), ("comma", ","))}
UPSIDE_DOWN = "travel a step"  # a listing that says how far a step goes, not how many make a unit
MORE_UNITS = {"m/s": ("mm/min",), "A": ("mA",), "rad/s": ("°/min",)}


@record(frozen=True)
class Rule:
    """How one setting stands in a listing.

    setting: its name on the tag. line: the line up to the number, with holes. beneath: the line above that names the axis, with a
    hole, where the line itself does not. axis, follower: whose it is where neither names one. unit: in which the listing counts.
    """

    setting: str
    line: str
    beneath: str = ""
    axis: str = ""
    follower: bool = False
    unit: str = ""


@record(frozen=True)
class Pattern:
    """A way in which a controller writes its settings down. decimal: point or comma."""

    name: str
    rules: tuple[Rule, ...] = ()
    decimal: str = "point"


@record(frozen=True)
class Listed:
    """A value that a listing holds: of which axis and setting [SI], and in which line, counted from 1."""

    axis: str
    setting: str
    value: float
    line: int
    follower: bool = False


def lines_of(listing: str) -> list[str]:
    """The lines of a listing. Raises BadFile for one that is too long."""
    if len(listing) > LONGEST_LISTING:
        raise BadFile(f"the listing has {len(listing)} characters; at most {LONGEST_LISTING} are read.")
    return [line[:LONGEST_LINE] for line in listing.splitlines()]


def listing_file(path: Path) -> str:
    """The text of a file that a controller's settings were listed into, whatever its signs. Raises BadFile."""
    return from_file(path, LONGEST_LISTING, lambda raw: raw.decode("utf-8-sig", errors="replace"))


def numbers_in(line: str, decimal: str = "point") -> list[tuple[int, int]]:
    """Where the numbers of a line begin and end; digits that belong to a word, such as x2, are numbers too."""
    return [one.span() for one in re.finditer(SIGNS[decimal], line[:LONGEST_LINE])]


def _word(name: str, follower: bool) -> str:
    """An axis' name as a word of its own, in any case; a number may follow at once, as in X100, and of a follower must."""
    behind = r"(?=[ _-]?\d)" if follower else LETTER_BEHIND
    return f"{LETTER_BEFORE}{re.escape(name)}{behind}"


def taught(listing: Sequence[str], place: int, at: int, setting: str, axis: str, unit: str = "", *, follower: bool = False,
           decimal: str = "point", alone: bool = False) -> Rule:
    """The rule that one example teaches: the number at character `at` of line `place` (from 0) is this setting of this axis.

    Where the line names the axis, the same rule reads every axis; else the nearest line above that does is kept with it; else the
    rule is of this axis only, as it is with `alone`. A follower is named as its axis with a digit behind it. Raises BadValue.
    """
    line = listing[place] if 0 <= place < len(listing) else ""
    span = next((span for span in numbers_in(line, decimal) if span[0] <= at <= span[1]), None)
    if span is None:
        raise BadValue("there is no number at this place; point at the number itself")
    before, word = line[:span[0]], _word(axis, follower)
    sixteens = [one.span() for one in re.finditer(SIXTEEN, before)]  # whose x is no axis
    named = [one for one in re.finditer(word, before, re.IGNORECASE)
             if not any(begin <= one.start() < end for begin, end in sixteens)]
    if named and not alone:
        lead, between = before[:named[-1].start()], before[named[-1].end():]
        digit = re.match(r"[ _-]?\d+", between) if follower else None
        kept = "" if digit is None else digit[0]
        rest = between[len(kept):]
        lead = _without_pairs(lead, rest, line[span[1]:], decimal)
        return Rule(setting, f"{lead}{AXIS}{kept}{_holed(rest, decimal)}{NUMBER}", unit=unit, follower=follower)
    for above in reversed(listing[:place]) if not alone else ():
        heading = re.search(word, above, re.IGNORECASE) if len(above) <= LONGEST_HEADING else None
        if heading is not None and not re.search(r"=|[ \t:]\d", above[heading.end():]):
            return Rule(setting, f"{_holed(before, decimal)}{NUMBER}", f"{above[:heading.start()]}{AXIS}{above[heading.end():]}",
                        unit=unit, follower=follower)
    # Numbers before it may be what tells this line from the next, so they stay as they are.
    return Rule(setting, f"{before}{NUMBER}", axis=axis, follower=follower, unit=unit)


def taught_and_read(listing: Sequence[str], place: int, at: int, setting: str, axis: str, unit: str = "", *,
                    follower: bool = False, decimal: str = "point", alone: bool = False, axes: Iterable[str] = ()) -> Rule:
    """The rule that one example teaches, as `taught`, once it has read the very number it was taught by, in that line.

    axes: of all axes, since it is read for each. Raises BadValue where it reads another, or none.
    """
    rule = taught(listing, place, at, setting, axis, unit, follower=follower, decimal=decimal, alone=alone)
    begin, end = next(span for span in numbers_in(listing[place], decimal) if span[0] <= at <= span[1])
    number = listing[place][begin:end]
    row, held = SettingRow(setting, setting, 0.0, ()), "" if unit == UPSIDE_DOWN else unit
    of = dict.fromkeys((axis, *axes), (row,))
    read = read_listing(Pattern("", (rule,), decimal), listing, of, {name: {setting: held} for name in of})
    own = next((one for one in read if one.axis == axis and one.follower == follower), None)
    wanted = as_held(number, unit, held, decimal)
    if own is None or own.line != place + 1 or own.value != wanted:
        where = "in no line" if own is None else f"in line {own.line}"
        hint = "" if alone else "; tick “this line only”, or point at a number in a line that names the axis before it"
        raise BadValue(f"what this teaches is read {where}, not as {number} in line {place + 1}{hint}")
    return rule


def _holed(text: str, decimal: str) -> str:
    """A text in which any other number may stand where one stands."""
    return re.sub(rf"(?:{SIGNS[decimal]})+", OTHER, text)


def _without_pairs(lead: str, between: str, behind: str, decimal: str) -> str:
    """What stands before the axis; pairs of other axes and their numbers beside it, as in `Steps X80 Y80 Z400`, may be any."""
    alike = rf"[^\W\d_]+{re.escape(between)}{SIGNS[decimal]}"
    pair = re.search(alike, lead)
    if pair is None and re.match(rf"\W+{alike}", behind):
        return f"{_holed(lead, decimal)}{STRETCH}"
    return f"{_holed(lead[:pair.start()], decimal)}{STRETCH}" if pair else _holed(lead, decimal)


def _expression(text: str, axes: Iterable[str], decimal: str) -> re.Pattern[str]:
    """The rule's line as an expression: blanks may be wider or narrower, the axis any of these, another number any."""
    names = "|".join(re.escape(name) for name in sorted(axes, key=len, reverse=True))
    holes = {AXIS: f"{LETTER_BEFORE}(?P<axis>{names}){LETTER_BEHIND}", NUMBER: rf"(?P<number>(?>{SIGNS[decimal]}))(?!\d|[.,]\d)",
             OTHER: rf"(?>{SIGNS[decimal]})", STRETCH: r".*?"}
    made = []
    for piece in re.split(r"(\{axis\}|\{number\}|\{other\}|\{…\})", text):
        made.append(holes.get(piece) or _as_blanks_may_be(piece))
    return re.compile(rf"^{BLANKS}{''.join(made).removeprefix(BLANKS)}", re.IGNORECASE)


def _as_blanks_may_be(text: str) -> str:
    """A literal text as an expression that minds no blanks beside signs, and not how many there are between words."""
    tokens = re.findall(r"\w+|[^\w\s]", text)
    first, last = (BLANKS if text and not re.match(r"\w", text[end]) else "" for end in (0, -1))
    return f"{first}{BLANKS.join(map(re.escape, tokens))}{last}" if tokens else first


def read_listing(pattern: Pattern, listing: Sequence[str], of: Mapping[str, Sequence[SettingRow]],
                 unit_of: Mapping[str, Mapping[str, str]]) -> list[Listed]:
    """All that a pattern finds, the last line that says a value counts.

    of: the rows of the tag by axis. unit_of: by axis, the unit in which each row's value is held. Raises BadValue.
    """
    found: dict[tuple[str, str, bool], Listed] = {}
    by_name = {name.lower(): name for name in of}
    for rule in pattern.rules:
        alone = [[name] for name in of] if STRETCH in rule.line else [[*of]]
        lines = [_expression(rule.line, names, pattern.decimal) for names in alone]
        heading = _expression(rule.beneath, of, pattern.decimal) if rule.beneath else None
        under = ""
        for place, text in enumerate(listing, start=1):
            if heading is not None:
                if (named := heading.match(text)) is not None and not text[named.end():].strip():
                    under = by_name[named["axis"].lower()]
                    continue
                if _is_heading(text, rule.beneath):
                    under = ""
            for got in filter(None, (line.match(text) for line in lines)):
                axis = by_name.get(got.groupdict().get("axis", "").lower(), under or rule.axis)
                if axis in of and any(row.name == rule.setting for row in of[axis]):
                    value = as_held(got["number"], rule.unit, unit_of.get(axis, {}).get(rule.setting, ""), pattern.decimal)
                    found[axis, rule.setting, rule.follower] = Listed(axis, rule.setting, value, place, rule.follower)
    order = list(of)
    return sorted(found.values(), key=lambda one: (order.index(one.axis), one.follower, one.line))


def _is_heading(text: str, beneath: str) -> bool:
    """Whether a line heads another part, as far as its marks before and after the words tell."""
    head, tail = beneath[:1], "" if beneath.endswith(AXIS) or beneath[-1:].isalnum() else beneath[-1:]
    marked = not head.isalnum() and head not in " {\t"
    return marked and text.startswith(head) and text.rstrip().endswith(tail)


def as_held(number: str, unit: str, held: str, decimal: str = "point") -> float:
    """A number of a listing as the tag holds it. Raises BadValue for a unit that does not fit, or a number too large."""
    point = number.replace("−", "-").replace("," if decimal == "comma" else ".", ".")
    value = float(int(number, 16)) if re.fullmatch(SIXTEEN, number) else float(point)
    if unit == UPSIDE_DOWN:
        if value == 0:
            raise BadValue("a step of no length makes no number of steps")
        return 1 / value
    whole = value * (units.factor(unit, held) if unit else 1.0)
    if not abs(whole) < 1e15:
        raise BadValue(f"{number[:20]} is too large for a setting")
    return whole


def units_for(setting: str, held: str) -> tuple[str, ...]:
    """The units in which a listing may count a setting, the likeliest first; empty text: as the tag shows it."""
    if setting == "steps_per_unit":
        return ("", UPSIDE_DOWN)
    if not held:
        return ("", "%")
    usual = tuple(one for one in units.DIMENSIONS.get(held, ()) if one)
    first = units.unit_shown(held)
    return tuple(dict.fromkeys((*([first] if first else []), *usual, *MORE_UNITS.get(held, ())))) or ("",)


@record(frozen=True)
class Compared:
    """A value of a listing beside what was last put on the machine and what is computed. differs, other: from what is computed, and
    from what was recorded."""

    found: Listed
    row: SettingRow
    differs: bool
    other: bool


def compared(found: Iterable[Listed], of: Mapping[tuple[str, bool], tuple[Settable, Sequence[SettingRow]]]) -> Iterator[Compared]:
    """What a listing says, value by value, against the tag and against what was recorded as set. of: by axis and follower."""
    for one in found:
        motor = of.get((one.axis, one.follower))
        row = next((row for row in motor[1] if row.name == one.setting), None) if motor else None
        if motor is None or row is None:
            continue
        recorded = motor[0].applied.get(one.setting)
        yield Compared(one, row, not is_same(row, one.value), recorded is not None and not is_same(row, one.value, recorded.value))


def folder() -> Path:
    return data_place("listings")


def own_patterns() -> dict[str, Pattern]:
    """The user's patterns by name; one that cannot be read is left out."""
    found = {}
    try:
        paths = sorted(folder().glob("*.json"))
    except OSError:
        return {}
    for path in paths:
        try:
            one = pattern_from(json.loads(from_file(path, 400_000, utf8)), path.stem)
        except (BadFile, BadValue, ValueError, RecursionError):
            continue
        found[one.name] = one
    return found


def pattern_from(plain: Any, name: str) -> Pattern:
    """A pattern as its file holds it. Raises BadValue."""
    allowed = {one.name for one in fields(Rule)}
    rules = plain.get("rules") if isinstance(plain, dict) else None
    if not isinstance(rules, list) or len(rules) > MOST_RULES or str(plain.get("decimal", "point")) not in SIGNS:
        raise BadValue("it is no pattern of a listing")
    made = []
    for one in rules:
        sound = isinstance(one, dict) and {"setting", "line"} <= one.keys() <= allowed and all(
            isinstance(value, bool if key == "follower" else str) and len(str(value)) <= LONGEST_LINE for key, value in one.items())
        if not sound or _hangs(one["line"]):
            raise BadValue("a rule of the pattern is none")
        made.append(Rule(**one))
    return Pattern(name, tuple(made), plain.get("decimal", "point"))


def _hangs(line: str) -> bool:
    """Whether a rule's line has no number, or holes with which looking for it could take for ever."""
    return line.count(NUMBER) != 1 or line.count(AXIS) > 1 or line.count(STRETCH) > 1 or line.count(OTHER) > 40 or OTHER * 2 in line


def keep_pattern(pattern: Pattern) -> str:
    """Keep a pattern with the user; the name it is kept under. Raises BadFile."""
    kept = safe_name(pattern.name)
    plain = {"decimal": pattern.decimal, "rules": [asdict(rule) for rule in pattern.rules]}
    write_whole(made(folder()) / f"{kept}.json", json.dumps(plain, indent=1, ensure_ascii=False))
    return kept
