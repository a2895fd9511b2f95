"""What is wrong with a document, as one sentence with its place."""

from __future__ import annotations

from pydantic import ValidationError

from urban_mule.core.sheet.given import shown
from urban_mule.store.document.made import LINK_MODELS, MOTOR_MODELS
from urban_mule.store.document.readings import READING_MODELS

TOLD_APART = ("train", "motor", "readings")  # whose items pydantic tells apart by their kind, and names it as a step
LONGEST_SENTENCE = 400  # characters
LONGEST_STEP = 40  # characters of a key that a place repeats
KINDS = {*LINK_MODELS, *MOTOR_MODELS, *READING_MODELS}


def first_fault(why: ValueError) -> str:
    """What is wrong, in words without a stop at the end, whoever refused it."""
    return sentence(why).rstrip(".") if isinstance(why, ValidationError) else str(why)


def sentence(error: ValidationError) -> str:
    """The first fault of a document as one sentence: place, what was given, what is allowed."""
    first = error.errors(include_url=False)[0]
    where, fault = place(first["loc"]), str(first["msg"])
    match first["type"]:
        case "missing":
            fault = "is required and not given"
        case "literal_error":
            fault = f"is {shown(first['input'])}; allowed is {first['ctx']['expected']}"
        case "union_tag_invalid":
            fault = f"kind is {shown(first['ctx']['tag'])}, which is not built yet; allowed is {first['ctx']['expected_tags']}"
        case "union_tag_not_found":
            fault = "kind is required and not given" if isinstance(first["input"], dict) else (
                f"is {shown(first['input'])}; an object with a kind is needed")
        case "model_attributes_type" | "model_type" | "dict_type" | "dataclass_type":
            fault = f"is {shown(first['input'])}; an object with keys is needed"
        case "bool_type" | "bool_parsing":
            fault = f"is {shown(first['input'])}; allowed is true or false"
        case "int_type" | "int_parsing" | "int_from_float" | "int_parsing_size":
            fault = f"is {shown(first['input'])}; a whole number is needed"
        case "float_type" | "float_parsing" | "finite_number":
            fault = f"is {shown(first['input'])}; a number is needed"
        case "string_type":
            fault = f"is {shown(first['input'])}; a text is needed"
        case "too_long" | "too_short":
            fault = f"has {first['ctx']['actual_length']} entries; others are needed"
        case "tuple_type":
            fault = f"is {shown(first['input'])}; a list is needed"
        case "given":
            where, fault = place((*first["loc"], first["ctx"]["key"])), str(first["ctx"]["fault"])
        case "value_error":
            fault = str(first["ctx"]["error"])
    joint = "" if not where else " " if fault.startswith(("is ", "has ", "holds ")) else ": "
    said = f"{where}{joint}{fault.rstrip('.')}"
    return f"{said if len(said) <= LONGEST_SENTENCE else said[:LONGEST_SENTENCE] + '…'}."


def place(location: tuple[int | str, ...]) -> str:
    """Where in the file: axes[0].train[1].teeth. The kind that told a part from others is no step of its own."""
    text, holder = "", ""
    for step, before in zip(location, (None, *location), strict=False):
        if isinstance(step, int):
            text += f"[{step}]"
        elif not (step in KINDS and holder in TOLD_APART and (isinstance(before, int) or before == "motor")):
            text += f".{step[:LONGEST_STEP]}" if text else step[:LONGEST_STEP]
            holder = step
    return text
