"""Fonts, style, pictures and texts that ship with the application, as files."""

from __future__ import annotations

from pathlib import Path

RESOURCES = Path(__file__).parent
