"""Pages of the house: filled from their templates, and printed as PDF."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from jinja2 import Environment, StrictUndefined
from PyQt6.QtCore import QMarginsF, QSizeF
from PyQt6.QtGui import QFont, QPageLayout, QPageSize, QPdfWriter, QTextDocument

from urban_mule.desk.kit.theme import FAMILY
from urban_mule.desk.resources import RESOURCES
from urban_mule.store.text_files import write_whole


def filled(template: str, **values: Any) -> str:
    """A page of the house from its template; what people typed is escaped."""
    text = RESOURCES.joinpath(f"report/{template}").read_text(encoding="utf-8")
    return Environment(autoescape=True, undefined=StrictUndefined).from_string(text).render(**values)


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
