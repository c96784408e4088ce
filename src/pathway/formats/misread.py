"""What is wrong with a field, in our own words: readers of files and forms never quote the library that checks them."""

import re
from collections.abc import Mapping
from typing import Any

from pydantic import ValidationError

_NUMBER, _WHOLE = "must be a number", "must be a whole number"
_WORDS = {
    "missing": "is missing",
    "extra_forbidden": "is not known here",
    "int_type": _WHOLE,
    "int_parsing": _WHOLE,
    "int_parsing_size": "is too large",
    "int_from_float": _WHOLE,
    "float_type": _NUMBER,
    "float_parsing": _NUMBER,
    "finite_number": _NUMBER,
    "bool_type": "must be true or false",
    "bool_parsing": "must be true or false",
    "string_type": "must be text",
    "string_pattern_mismatch": "has a form that it cannot have",
    "string_too_long": "must have no more than {max_length} letters",
    "string_too_short": "must have at least {min_length} letters",
    "too_long": "must have no more than {max_length} entries",
    "too_short": "must have at least {min_length} entries",
    "enum": "must be {expected}",
    "literal_error": "must be {expected}",
    "greater_than": "must be more than {gt:g}",
    "greater_than_equal": "must be at least {ge:g}",
    "less_than": "must be less than {lt:g}",
    "less_than_equal": "must be at most {le:g}",
    "list_type": "must be a list",
    "tuple_type": "must be a list",
    "dict_type": "must be a block of fields",
    "model_type": "must be a block of fields",
    "model_attributes_type": "must be a block of fields",
    "value_error": "{error}",
}
WHOLE_FILE = "the whole file"


def first_fault(error: ValidationError) -> tuple[str, str]:
    """Return the first field that is wrong, as a dotted key, and what is wrong with it."""
    first: Mapping[str, Any] = error.errors(include_url=False)[0]
    where = ".".join(str(step) for step in first["loc"]) or WHOLE_FILE
    return where, fault_in_words(first)


def fault_in_words(fault: Mapping[str, Any]) -> str:
    """Return what is wrong with a field, to be read after its name.

    Args:
        fault: as the library gives it, with "type" and "ctx".
    """
    kind, context = str(fault["type"]), fault.get("ctx", {})
    if kind == "json_invalid":
        place = re.search(r"line (\d+) column (\d+)", str(context.get("error")))
        return f"is not JSON{' (line {}, column {})'.format(*place.groups()) if place else ''}"
    return _WORDS.get(kind, "cannot be used").format(**context)
