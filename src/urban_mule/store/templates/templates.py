"""Templates: those that ship, those of the user, and filling one within bounds of time and size."""

from __future__ import annotations

import json
import subprocess
import sys
from collections.abc import Mapping
from importlib.resources import files
from pathlib import Path
from typing import Any

from urban_mule.store.places import data_place, made
from urban_mule.store.templates.render import LONGEST
from urban_mule.store.text_files import BadFile, from_file, safe_name, utf8, write_whole

PATIENCE = 6.0  # s until a template that does not end is ended
LONGEST_TEMPLATE = 100_000  # characters
SUFFIX = ".txt"


def shipped_templates() -> dict[str, str]:
    """The templates that ship, by name."""
    folder = files("urban_mule.store.templates").joinpath("shipped")
    return {Path(one.name).stem.replace("-", " "): one.read_text(encoding="utf-8")
            for one in sorted(folder.iterdir(), key=lambda one: one.name) if one.name.endswith(SUFFIX)}


def own_folder() -> Path:
    return data_place("templates")


def own_templates() -> dict[str, str]:
    """The user's own templates, by name; one that cannot be read is left out."""
    found = {}
    try:
        paths = sorted(own_folder().glob(f"*{SUFFIX}"))
    except OSError:
        return {}
    for path in paths:
        try:
            found[path.stem] = from_file(path, LONGEST_TEMPLATE * 4, utf8)
        except BadFile:
            continue
    return found


def keep_template(name: str, text: str) -> str:
    """Keep a template among the user's own; the name it is kept under. Raises BadFile."""
    kept = safe_name(name)
    write_whole(made(own_folder()) / f"{kept}{SUFFIX}", text)
    return kept


def fill(template: str, data: Mapping[str, Any]) -> str:
    """The text of a template. Raises BadFile with one sentence: what is wrong and in which line, or that it does not end."""
    if len(template) > LONGEST_TEMPLATE:
        raise BadFile(f"the template has {len(template)} characters; at most {LONGEST_TEMPLATE} are taken.")
    asked = json.dumps({"template": template, "data": data}, allow_nan=False)
    try:
        done = subprocess.run([sys.executable, "-I", "-m", "urban_mule.store.templates.render"], input=asked, capture_output=True,
                              text=True, encoding="utf-8", timeout=PATIENCE, check=False)
    except subprocess.TimeoutExpired:
        raise BadFile(f"the template does not end within {PATIENCE:g} s.") from None
    except OSError as why:
        raise BadFile(f"the template cannot be filled: {why.strerror or why}.") from None
    if done.returncode == 0:
        return done.stdout[:LONGEST]
    said = done.stderr.strip().splitlines()
    if done.returncode < 0 or not said or done.returncode == 1:
        raise BadFile("the template runs too long or takes too much memory; it was ended.")
    raise BadFile(f"{said[-1][:300].rstrip('.')}.")
