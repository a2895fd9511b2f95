"""How each kind of link looks and is told: one table; a kind that stands in none is drawn plainly and asked for all it has."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter

from urban_mule.core.sheet.given import givens
from urban_mule.core.sheet.record import record
from urban_mule.core.sheet.units import show
from urban_mule.core.train.links import LINKS
from urban_mule.desk.kit import link_drawings as drawn
from urban_mule.desk.kit import train_signs as signs
from urban_mule.desk.kit.theme import theme
from urban_mule.store.document.project import Axis

Drawing = Callable[[QPainter, Any, QPointF, QRectF, float], None]
Words = Callable[[Any, str], str]  # of a link, in a system of units
Fraction = Callable[[Any, str], tuple[str, str, str]]  # above the line, beneath it, what it is


def nothing(_link: Any, _system: str) -> str:
    return ""


@record(frozen=True)
class LinkLook:
    """How a kind of link is shown.

    draw: at its place in the chain; across: its greatest dimension across its shaft [m]. facts: its size in a few words. fraction:
    its part of the steps per unit. first: what is asked first of it, nothing for all of it.
    small: a sign of the train that it makes. library: kinds of parts that it is chosen from.
    """

    draw: Drawing = drawn.draw_plain
    across: Callable[[Any], float] = lambda _link: 0.0
    facts: Words = nothing
    fraction: Fraction | None = None
    first: tuple[str, ...] = ()
    small: Callable[[QPainter, QRectF], None] | None = None
    library: tuple[str, ...] = ()


def _length(value: float | None, system: str) -> str:
    return "?" if value is None else str(show(value, "m", system))


def _of_reduction(link: Any, _system: str) -> str:
    return f"{link.ratio:g} to 1" if link.ratio else "ratio ?"


def _ratio(link: Any, _system: str) -> tuple[str, str, str]:
    return (f"{link.ratio:g}" if link.ratio else "?"), "1", str(link.kind)


def _of_belt(link: Any, system: str) -> str:
    return f"{link.teeth or '?'} teeth × {_length(link.pitch, system)}{', open' if link.layout == 'open' else ''}"


GEARED = ("ratio", "efficiency", "inertia_in", "inertia_out", "rated_torque", "torsional_stiffness", "clearance")
LOOKS: dict[str, LinkLook] = {
    "coupling": LinkLook(drawn.draw_coupling, first=("inertia", "rated_torque", "torsional_stiffness")),
    "reduction": LinkLook(drawn.draw_reduction, lambda _link: drawn.USUAL_FRAME, _of_reduction, _ratio, GEARED,
                          library=("reduction", "worm")),
    "worm": LinkLook(drawn.draw_worm, lambda _link: drawn.USUAL_FRAME, _of_reduction, _ratio, GEARED,
                     library=("reduction", "worm")),
    "screw": LinkLook(
        drawn.draw_screw, lambda link: 2.0 * (link.diameter or 0.0), lambda link, system: f"lead {_length(link.lead_used, system)}",
        lambda link, system: ("1 turn", _length(link.lead_used, system), "lead"),
        ("lead", "diameter", "length", "efficiency", "root_diameter", "end_support", "drag_torque", "dynamic_load_rating"),
        signs.sign_screw),
    "belt": LinkLook(
        drawn.draw_belt, lambda link: (link.pitch or 0.0) * (link.teeth or 0) / math.pi, _of_belt,
        lambda link, system: ("1 turn", f"{link.teeth or '?'} × {_length(link.pitch, system)}", "belt"),
        ("pitch", "teeth", "efficiency", "inertia", "layout", "span", "specific_stiffness", "pretension"),
        signs.sign_belt),
    "rack": LinkLook(
        drawn.draw_rack, drawn.rack_size, lambda link, system: f"{link.teeth or '?'} teeth, module {_length(link.module, system)}",
        lambda link, system: ("1 turn", f"π × {link.teeth or '?'} × {_length(link.module, system)}", "rack"),
        ("module", "teeth", "efficiency", "helix_angle", "inertia", "rated_force", "mesh_stiffness", "clearance"),
        signs.sign_rack),
    "feed roller": LinkLook(
        drawn.draw_feed_roller, lambda link: link.diameter or 0.0,
        lambda link, system: f"diameter {_length(link.diameter, system)}",
        lambda link, system: ("1 turn", f"π × about {_length(link.diameter, system)}", "feed roller"),
        ("diameter", "efficiency", "inertia", "drag_torque"), signs.sign_feed_roller),
    "direct": LinkLook(drawn.draw_direct),
}


def look_of(kind: str) -> LinkLook:
    """How a kind of link is shown."""
    return LOOKS.get(kind) or LinkLook(first=tuple(one.name for one in givens(LINKS[kind])))


TURN = "turn"


def train_kind(axis: Axis) -> str:
    """The link that carries the load, which names the axis' kind of train; of a rotary one without, that it turns."""
    kinds = [link.kind for link in axis.train or () if LINKS[link.kind].turns_into_travel]
    return kinds[0] if kinds else TURN if axis.motion == "rotary" else ""


def draw_train(painter: QPainter, kind: str, area: QRectF) -> None:
    """A small drawing of a train."""
    painter.setPen(theme.pen("muted", 1.4))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    sign = signs.sign_turn if kind == TURN else look_of(kind).small if kind else None
    (sign or signs.sign_plain)(painter, area)
