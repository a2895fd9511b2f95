"""The manual page of the command, made of its own help: `python -m tools.man_page` prints it."""

from __future__ import annotations

import argparse

from urban_mule import __version__
from urban_mule.cli import command_line

HEAD = """.TH URBAN\\-MULE 1 "" "Urban Mule {version}" "User Commands"
.SH NAME
urban\\-mule \\- {what}
.SH SYNOPSIS
.B urban\\-mule
[\\fIcommand\\fR] [\\fIoptions\\fR]
.SH DESCRIPTION
Sizes and tunes the axis drives of machines that move, says what to set on the hardware, takes measurements back in, judges them
and says what to do next. Without a command the window opens on the last project. It certifies nothing: local codes and licensed
practice decide.
.SH COMMANDS
"""
FOOT = """.SH EXIT STATUS
0, or 2 on bad input, with one sentence that says what was given, what is allowed, and where.
.SH FILES
.TP
\\fI*.mule\\fR
a project with its readings, log and every revision
.TP
\\fI~/.local/share/urban\\-mule\\fR, \\fI~/.config/urban\\-mule\\fR
own parts and templates, copies of projects, settings; they stay when the program is removed
"""


def roff(text: str) -> str:
    """A text as a manual page takes it."""
    safe = text.replace("\\", "\\e").replace("-", "\\-").replace("%%", "%")
    return f"\\&{safe}" if safe[:1] in (".", "'") else safe


def entry(name: str, parser: argparse.ArgumentParser, said: str) -> str:
    """A command with its options."""
    options = [one for one in parser._actions if not isinstance(one, argparse._HelpAction)]
    placed = " ".join(one.metavar or one.dest.upper() for one in options if not one.option_strings)
    lines = [".TP", f"\\fB{roff(name)}\\fR {roff(placed)}".rstrip(), roff(said)]
    for one in options:
        called = ", ".join(one.option_strings) or str(one.metavar or one.dest.upper())
        value = f" {one.metavar or one.dest.upper()}" if one.option_strings and one.nargs != 0 else ""
        if one.help:
            lines += [".RS", ".TP", f"\\fB{roff(called)}\\fR{roff(value)}", roff(one.help), ".RE"]
    return "\n".join(lines)


def manual_page() -> str:
    """The page as roff."""
    parser = command_line()
    commands = next(one for one in parser._actions if isinstance(one, argparse._SubParsersAction))
    said = {one.dest: str(one.help or "") for one in commands._choices_actions}
    entries = [entry(name, one, said[name]) for name, one in commands.choices.items()]
    return HEAD.format(version=__version__, what=roff(str(parser.description).rstrip("."))) + "\n".join(entries) + "\n" + FOOT


if __name__ == "__main__":
    print(manual_page(), end="")
