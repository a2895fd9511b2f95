"""What is taken to the machine on paper: the card of switches in the order of work, and the wiring sheet."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Any

from PyQt6.QtGui import QPageLayout

from urban_mule.bench.sessions.kinds import PLAN_KINDS, words_of
from urban_mule.core.drive.interface import SIGNALS, WANTED
from urban_mule.core.drive.wiring import clashes, same_address, signal_words
from urban_mule.core.load.fall import without_power
from urban_mule.core.sheet.verdict import Verdict
from urban_mule.desk.model.session import Session
from urban_mule.desk.out.machine import waiting_of
from urban_mule.desk.out.printing import filled, print_html
from urban_mule.store.settings import SettingRow, follower_settings, settings_of

ON_DRIVER = ("switches", "current_entry_value", "reference_voltage", "current_register", "current_peak", "microsteps",
             "hold_fraction", "changeover_ticks", "bus_address")
ON_CONTROLLER = ("steps_per_unit", "top_speed", "top_acceleration", "electronic_gear")


def card_html(session: Session) -> str:
    """The card of all drivers: power off, wait, set, photograph, power on, controller's side."""
    goes = [(axis.name, without_power(axis.incline, session.solution_of(axis).get("gravity_load")))
            for axis in session.project.axes]
    return filled("card.html", project=session.project, revision=session.revision, drivers=_drivers(session),
                  wait=waiting_of(session.together), goes=[one for one in goes if one[1]])


CALLED_WRONG = {  # what is not ordered while one of these checks calls it wrong
    "set current": frozenset({"switches", "current_entry_value", "reference_voltage", "current_register", "current_peak"}),
    "current setting": frozenset({"switches", "current_entry_value", "current_register", "current_peak"}),
    "switches": frozenset({"switches"}), "driver heat": frozenset({"switches", "current_entry_value", "current_peak"}),
    "microsteps": frozenset({"microsteps"}), "standstill": frozenset({"hold_fraction"}),
    "pulse rate": frozenset({"top_speed"}), "reachable speed": frozenset({"top_speed"}), "cycle": frozenset({"top_speed"})}


def _drivers(session: Session) -> list[dict[str, Any]]:
    """Every driver with what is set on it and what on the controller's side; nothing that a check calls wrong is ordered."""
    found = []
    for axis in session.project.axes:
        if axis.driver is None:
            continue
        state, follower = session.state_of(axis), session.follower_of(axis)
        short = [one for one in state.verdicts() if one.level == "short"]
        unlike = [one for one in short if one.check == "follower"]
        found.append(_driver(session.project.motor_name(axis), axis.driver, settings_of(state), short,
                             unlike if session.project.motor_of(axis) else ()))
        if follower is not None:
            found.append(_driver(f"{axis.name} follower", follower.axis.driver, follower_settings(follower), short, unlike))
    return found


def _driver(name: str, driver: Any, rows: list[SettingRow], short: list[Verdict], unlike: Sequence[Verdict] = ()
            ) -> dict[str, Any]:
    """One driver. short: what is called wrong on its axis; unlike: that motors differ which must not: none of it is set."""
    wants = WANTED.get(driver.interface_mode or "")
    wrong = {row.name: one for one in short for row in rows if row.name in CALLED_WRONG.get(one.check, ())}
    held = {one.check: one for one in (*unlike, *wrong.values())}
    here = [] if unlike else [row for row in rows if row.name in ON_DRIVER and row.name not in wrong]
    return {"name": name, "driver": driver.name, "mode": driver.interface_mode or "", "wants": wants, "here": here,
            "not_yet": [f"{one.sentence} {one.next}" for one in held.values()],
            "there": [row for row in rows if row.name in ON_CONTROLLER and row.name not in wrong]}


def wiring_html(session: Session) -> str:
    """The wiring of all drivers as a table, what is wrong with it, and room for a photograph."""
    wirings = session.together["wirings"]
    rows = [(signal_words(signal), [(dict(one.terminals).get(signal, "").strip(), signal in one.open) for one in wirings])
            for signal in SIGNALS]
    faults = [f"Terminal {one}." for one in clashes(wirings)] + [f"{one}." for one in same_address(wirings)]
    return filled("wiring.html", project=session.project, revision=session.revision, rows=rows,
                  motors=[one.motor for one in wirings], faults=faults)


def plan_html(session: Session, plan: Any) -> str:
    """The plan of a round with a box for each number. plan: kind, axis, steps, the unit that is read, the caution."""
    kind, axis, steps, unit, caution = plan
    return filled("plan.html", project=session.project, revision=session.revision, axis=axis, steps=steps, unit=unit,
                  caution=caution, words=words_of(kind), plan=PLAN_KINDS[kind])


def begin_plan(session: Session, plan: Any, path: Path) -> None:
    """Write it as PDF in the background; then it is told. Raises BadFile."""
    html = plan_html(session, plan)
    session.works.run("the plan", session, lambda _progress: print_html(html, path, QPageLayout.Orientation.Portrait),
                      lambda _done: session.told.emit(f"{path}: it is written."))


def begin_sheet(session: Session, sheet: str, path: Path) -> None:
    """A card or a wiring sheet as PDF, written in the background; then it is told. sheet: card or wiring. Raises BadFile."""
    html = {"card": card_html, "wiring": wiring_html}[sheet](session)
    session.works.run(f"the {sheet}", session, lambda _progress: print_html(html, path, QPageLayout.Orientation.Portrait),
                      lambda _done: session.told.emit(f"{path}: it is written."))
