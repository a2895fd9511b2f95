"""The report as PDF and HTML, and the tags to hang on the machine."""

from __future__ import annotations

import base64
from importlib import resources
from pathlib import Path
from typing import Any

from jinja2 import Environment, StrictUndefined
from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QMarginsF, QSize, QSizeF
from PyQt6.QtGui import QFont, QPageLayout, QPageSize, QPdfWriter, QTextDocument

from urban_mule.core.sheet.stages import StageName
from urban_mule.core.sheet.quantity import Unknown
from urban_mule.core.sheet.verdict import LEVELS
from urban_mule.core.sheet.working import working_of, working_text
from urban_mule.desk.kit.leaves import Leaves
from urban_mule.desk.model.session import Session
from urban_mule.desk.model.words import label
from urban_mule.core.sheet.shown import value_text
from urban_mule.desk.stages.registry import SPECS
from urban_mule.store.settings import settings_of
from urban_mule.desk.kit.theme import FAMILY, theme
from urban_mule.store.text_files import write_whole

DECIDING = ("peak_torque", "working_margin", "rms_torque", "continuous_margin", "inertia_ratio", "temperature_rise",
            "steps_per_unit", "backlash", "positioning_accuracy")
PICTURED: tuple[StageName, ...] = ("Load", "Motor", "Drive", "Scale", "Slack", "Ring", "Proof")
PICTURE = QSize(900, 330)


def picture_png(session: Session, stage: StageName) -> bytes:
    """The picture of a stage as PNG, at the size of the report."""
    leaves = Leaves(session, SPECS[stage].leaves)
    leaves.resize(PICTURE)
    leaves.begin()
    picture = leaves.picture
    picture.resize(PICTURE)
    picture.bring_up_to_date()
    picture.ensurePolished()
    raw = QByteArray()
    buffer = QBuffer(raw)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    picture.grab().save(buffer, "PNG")
    leaves.deleteLater()
    return bytes(raw.data())


def axis_section(session: Session) -> dict[str, Any]:
    """What the report says of the shown axis."""
    pictures = []
    for stage in PICTURED:
        known = sorted((v for v in session.verdicts(stage) if v.level != "unknown"), key=lambda v: -LEVELS.index(v.level))
        if known:
            pictures.append({"stage": stage, "data": base64.b64encode(picture_png(session, stage)).decode(), "verdicts": known})
    rows = []
    for name in DECIDING:
        value = session.solution.find(name) if name in session.sheet.quantities else None
        if value is not None and not isinstance(value, Unknown):
            shown = value_text(session.sheet, name, value, session.system, 4, session.axis.unit)
            rows.append({"label": label(name), "value": str(shown), "working": working_text(working_of(session.solution, name))})
    return {"name": session.axis.name, "pictures": pictures, "tag": settings_of(session.state), "deciding": rows,
            "unknown": [v for v in session.verdicts() if v.level == "unknown"]}


def report_html(session: Session) -> str:
    """The whole report as HTML; every axis that has something to say, and the log."""
    here, axes = session.index, []
    blocked = session.blockSignals(True)  # the window need not follow while each axis is read
    try:
        for index in range(len(session.project.axes)):
            session.show_axis(index)
            axes.append(axis_section(session))
    finally:
        session.show_axis(here)
        session.blockSignals(blocked)
    template = resources.files("urban_mule.desk.resources").joinpath("report/report.html").read_text(encoding="utf-8")
    environment = Environment(autoescape=True, undefined=StrictUndefined)
    return environment.from_string(template).render(
        project=session.project, axes=axes, entries=session.entries(), revision=session.revision, palette=theme.palette)


def write_report(session: Session, path: Path) -> None:
    """The report as PDF at `path` and as HTML beside it. Raises BadFile."""
    html = report_html(session)
    write_whole(path.with_suffix(".html"), html)
    print_html(html, path.with_suffix(".pdf"), QPageLayout.Orientation.Portrait)


def tags_html(session: Session) -> str:
    """The tags of all axes, two to a page."""
    here, tags = session.index, []
    blocked = session.blockSignals(True)
    try:
        for index in range(len(session.project.axes)):
            session.show_axis(index)
            tags.append({"name": session.axis.name, "rows": settings_of(session.state)})
    finally:
        session.show_axis(here)
        session.blockSignals(blocked)
    template = resources.files("urban_mule.desk.resources").joinpath("report/tags.html").read_text(encoding="utf-8")
    pairs = [tags[i:i + 2] for i in range(0, len(tags), 2)]
    return Environment(autoescape=True, undefined=StrictUndefined).from_string(template).render(
        project=session.project, pairs=pairs, revision=session.revision)


def write_tags(session: Session, path: Path) -> None:
    """The tags as PDF. Raises BadFile."""
    print_html(tags_html(session), path, QPageLayout.Orientation.Landscape)


def print_html(html: str, path: Path, orientation: QPageLayout.Orientation) -> None:
    """HTML on A4 pages as PDF. Raises BadFile."""
    write_whole(path, lambda fresh: _print_into(html, fresh, orientation))


def _print_into(html: str, path: Path, orientation: QPageLayout.Orientation) -> None:
    writer = QPdfWriter(str(path))
    writer.setResolution(96)
    writer.setPageLayout(QPageLayout(QPageSize(QPageSize.PageSizeId.A4), orientation, QMarginsF(14, 14, 14, 14),
                                     QPageLayout.Unit.Millimeter))
    document = QTextDocument()
    face = QFont(FAMILY)
    face.setPixelSize(12)
    document.setDefaultFont(face)
    document.setPageSize(QSizeF(writer.width(), writer.height()))
    document.setHtml(html)
    document.print(writer)
