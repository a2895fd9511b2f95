"""A template filled in a process of its own: it reads a template and its data on standard input, and writes the text.

Nothing of the program is reachable from a template: Jinja2's immutable sandbox, no imports, no files, no globals. What runs too
long or grows too large ends this process and nothing else.
"""

from __future__ import annotations

import json
import resource
import sys
from typing import Any

SECONDS, MEMORY, LONGEST = 3, 512 * 2**20, 1_000_000  # of its processor time; bytes it may take; characters it may write
STATUS = {"fault": 3, "large": 4}


def filled(template: str, data: dict[str, Any]) -> str:
    """The text of a template. Raises ValueError with one sentence that names the line."""
    from jinja2 import StrictUndefined, TemplateError, TemplateSyntaxError
    from jinja2.sandbox import ImmutableSandboxedEnvironment

    environment = ImmutableSandboxedEnvironment(
        undefined=StrictUndefined, trim_blocks=True, lstrip_blocks=True, keep_trailing_newline=True)
    environment.globals.clear()
    try:
        made = environment.from_string(template)
        parts, size = [], 0
        for part in made.generate(**data):
            size += len(part)
            if size > LONGEST:
                raise ValueError(f"it writes more than {LONGEST} characters; at most so many are taken")
            parts.append(part)
        return "".join(parts)
    except TemplateSyntaxError as why:
        raise ValueError(f"line {why.lineno}: {why.message}") from None
    except TemplateError as why:
        raise ValueError(f"{_line(why)}{why}") from None
    except RecursionError as why:
        raise ValueError(f"{_line(why)}it calls itself too deeply") from None
    except ArithmeticError as why:
        raise ValueError(f"{_line(why)}a number cannot be calculated: a division by nothing, or one too large") from None
    except (TypeError, AttributeError, KeyError, IndexError) as why:
        raise ValueError(f"{_line(why)}what stands there does not fit what is done with it ({str(why)[:120]})") from None


def _line(why: BaseException) -> str:
    """Where in the template it went wrong."""
    trace, found = why.__traceback__, ""
    while trace is not None:
        if trace.tb_frame.f_code.co_filename == "<template>":
            found = f"line {trace.tb_lineno}: "
        trace = trace.tb_next
    return found


def main() -> int:
    """Fill the template on standard input; the text, or one sentence on standard error."""
    resource.setrlimit(resource.RLIMIT_CPU, (SECONDS, SECONDS))
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_FSIZE, (0, 0))
    asked = json.load(sys.stdin)
    try:
        sys.stdout.write(filled(asked["template"], asked["data"]))
    except ValueError as why:
        sys.stderr.write(str(why))
        return STATUS["fault"]
    except MemoryError:
        sys.stderr.write("it takes more memory than a template may")
        return STATUS["large"]
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
