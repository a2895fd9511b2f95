"""The working of a number: its formula, inputs with units, their own working, and the source.

A formula is read off the code of the quantity, so that it cannot say something else than what is computed.
"""

from __future__ import annotations

import ast
import inspect
import textwrap
from dataclasses import is_dataclass
from functools import cache
from typing import Any, ClassVar

import numpy as np

from urban_mule.core.sheet.given import givens, words
from urban_mule.core.sheet.quantity import Quantity, Unknown
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.sheet import Sheet
from urban_mule.core.sheet.solution import Solution

FUNCTION_SIGNS = {"sqrt": "√", "abs": "abs", "maximum": "max", "minimum": "min"}
INDENT = "    "


@record(frozen=True, eq=False, repr=False)
class Working:
    """One row: a quantity or given with its value and how it came about. `formula` is empty for what was given."""

    name: str
    symbol: str
    unit: str
    value: Any
    formula: str
    source: str
    doc: str
    parameters: tuple[str, ...]

    @property
    def label(self) -> str:
        return words(self.name)


def working_of(solution: Solution, name: str) -> tuple[Working, ...]:
    """The row of a name and, behind it, the rows of all that it was computed from, nearest first.

    Raises KeyError for a name that is not on the sheet.
    """
    rows: dict[str, Working] = {}
    waiting = [name]
    while waiting:
        one = waiting.pop(0)
        if one not in rows:
            rows[one] = working_row(solution, one)
            waiting += rows[one].parameters
    return tuple(rows.values())


def working_row(solution: Solution, name: str) -> Working:
    """One row of a working. Raises KeyError for a name that is not on the sheet."""
    sheet, value = solution.sheet, solution.find(name)
    if name in sheet.inputs:
        one = sheet.inputs[name]
        return Working(name, one.symbol, sheet.unit(name), value, "", "given", one.doc, ())
    q = sheet.quantities[name]
    if q.instead and solution.get(q.instead) is not None:
        return Working(name, q.symbol, sheet.unit(name), value, sheet.symbol(q.instead), "given in place of what is computed",
                       q.doc, (q.instead,))
    used = tuple(p for p in q.parameters if not (p in q.optional and isinstance(solution.find(p), Unknown)))
    return Working(name, q.symbol, sheet.unit(name), value, formula_of(sheet, q), q.source, q.doc, used)


def formula_of(sheet: Sheet, q: Quantity) -> str:
    """The formula of a quantity in symbols: as declared, else read off its single return."""
    if q.formula:
        return q.formula
    returned = _returned(q)
    return "" if returned is None else _Symbols(sheet).text(returned)


@cache
def _returned(q: Quantity) -> ast.expr | None:
    tree = ast.parse(textwrap.dedent(inspect.getsource(q.function)))
    returns = [node for node in ast.walk(tree) if isinstance(node, ast.Return)]
    return returns[-1].value if len(returns) == 1 else None


class _Symbols:
    """Writes an expression with the symbols of the sheet."""

    signs: ClassVar[dict[type, str]] = {ast.Add: " + ", ast.Sub: " − ", ast.Mult: "·", ast.Div: " / "}
    strength: ClassVar[dict[type, int]] = {ast.Add: 1, ast.Sub: 1, ast.Mult: 2, ast.Div: 2, ast.Pow: 3}

    def __init__(self, sheet: Sheet) -> None:
        self.sheet = sheet

    def text(self, node: ast.expr, around: int = 0) -> str:
        match node:
            case ast.BinOp(left, ast.Pow(), right):
                power = self.text(right)
                raised = {"2": "²", "3": "³", "0.5": "^½"}.get(power, f"^{power}")
                return f"{self.text(left, 4)}{raised}"
            case ast.BinOp(left, op, right):
                own = self.strength.get(type(op), 1)
                tail = own + (1 if isinstance(op, (ast.Sub, ast.Div)) else 0)
                text = self.text(left, own) + self.signs.get(type(op), "?") + self.text(right, tail)
                return f"({text})" if own < around else text
            case ast.UnaryOp(ast.USub(), operand):
                return f"−{self.text(operand, 2)}"
            case ast.Call(function, arguments):
                called = function.attr if isinstance(function, ast.Attribute) else getattr(function, "id", "")
                inner = ", ".join(self.text(one) for one in arguments)
                return f"{FUNCTION_SIGNS.get(called, called)}({inner})"
            case ast.Name(name):
                known = name in self.sheet.inputs or name in self.sheet.quantities
                return (self.sheet.symbol(name) or words(name).lower()) if known else words(name).lower()
            case ast.Attribute(ast.Name("math"), "pi"):
                return "π"
            case ast.Attribute(_, name):
                return words(name).lower()
            case ast.Constant(value):
                return f"{value:g}" if isinstance(value, float) else str(value)
            case _:
                return ast.unparse(node)


def value_text(row: Working) -> str:
    """The value of a row with its unit, in SI, or why there is none."""
    value = row.value
    if isinstance(value, Unknown):
        return f"not known: {value.reason}"
    if isinstance(value, (float, int, np.floating)):
        return f"{value:.6g} {row.unit}".strip()
    if isinstance(value, tuple) and all(is_dataclass(record) for record in value):
        return "; ".join(record_text(record) for record in value)
    return value if isinstance(value, str) else ""


def record_text(record: Any) -> str:
    """A stage or a move in a few words: its kind and what is given of it, in SI."""
    told = [
        f"{words(one.name).lower()} {value:g} {'' if '[' in one.unit else one.unit}".strip() if isinstance(value, (int, float))
        else str(value)
        for one in givens(type(record)) if (value := getattr(record, one.name)) is not None and value != one.default
    ]
    return " ".join([*([record.kind] if hasattr(record, "kind") else []), ", ".join(told)]).strip()


def working_text(rows: tuple[Working, ...]) -> str:
    """A working as indented text; what was shown once is named, not repeated."""
    known = {row.name: row for row in rows}
    shown: set[str] = set()
    lines: list[str] = []

    def write(name: str, depth: int) -> None:
        row, margin = known[name], INDENT * depth
        value = value_text(row)
        lines.append(f"{margin}{row.name}{f' = {value}' if value else ''}")
        if name in shown:
            if row.formula:
                lines[-1] += "  (above)"
            return
        shown.add(name)
        if row.formula:
            lines.append(f"{margin}  {row.symbol} = {row.formula}   [{row.source}]")
        for parameter in row.parameters:
            write(parameter, depth + 1)

    write(rows[0].name, 0)
    return "\n".join(lines) + "\n"
