"""The athlete file: JSON checked field by field, every refusal one line with place and remedy."""

import json
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError, ValidationInfo, field_validator

from sorvek.core.athlete.athlete import Athlete
from sorvek.core.athlete.repetition import CurveName
from sorvek.core.errors import AthleteFileError, UnknownMovementError
from sorvek.core.workout import Library, shipped_library

Reps = Annotated[float, Field(ge=0, le=20_000)]
Kilograms = Annotated[float, Field(gt=0, le=600)]
Reason = Annotated[str, Field(max_length=200)]
Day = Annotated[str, Field(pattern=r"^\d{4}-\d\d-\d\d$")]
Doubt = Annotated[float, Field(gt=0, le=1)]
Correlation = Annotated[float, Field(ge=-1, le=1)]
MOST_SHOWN = 60
Seconds = Annotated[float, Field(gt=0, le=120)]


class AthleteFile(BaseModel):
    """The fields of docs/formats.md; only name and tier must be there."""

    model_config = ConfigDict(extra="forbid", str_strip_whitespace=True, allow_inf_nan=False)

    name: Annotated[str, Field(min_length=1, max_length=80)]
    tier: Literal["starting", "building", "competing", "racing"]
    sex: Literal["m", "f"] = "m"
    division: Annotated[str, Field(max_length=40)] = ""
    mass_kg: Annotated[float, Field(ge=25, le=250)] | None = None
    stature_cm: Annotated[float, Field(ge=120, le=230)] | None = None
    critical_power_w: Annotated[float, Field(ge=50, le=600)] | None = None
    w_prime_j: Annotated[float, Field(ge=2_000, le=60_000)] | None = None
    unbroken: dict[str, Reps] = {}
    one_rep_max_kg: dict[str, Kilograms] = {}
    cycle_s: dict[str, Seconds] = {}
    curve: CurveName = CurveName.EPLEY
    notes: Annotated[str, Field(max_length=2_000)] = ""
    flags: dict[str, Reason] = {}
    measured_on: dict[str, Day] = {}
    learnt: dict[str, Doubt] = {}
    together: dict[str, dict[str, Correlation]] = {}

    @field_validator("unbroken", "one_rep_max_kg", "cycle_s", "flags")
    @classmethod
    def _known(cls, values: dict[str, Any], info: ValidationInfo) -> dict[str, Any]:
        library: Library = (info.context or {}).get("library") or shipped_library()
        return {library.find(name).name: value for name, value in values.items()}


def athlete_from_data(data: object, library: Library | None = None) -> Athlete:
    """Return the athlete a parsed JSON object describes; `library` knows the movements named in it.

    Raises: AthleteFileError naming the first field that is wrong and what to write instead.
    """
    try:
        fields = AthleteFile.model_validate(data, context={"library": library})
    except UnknownMovementError as error:
        raise AthleteFileError("movements", str(error)) from error
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        place = _one_line(".".join(str(part) for part in first["loc"])) or "the file"
        given = "" if first["type"] == "missing" else f" (given: {_one_line(str(first['input']))})"
        remedy = first["msg"].removeprefix("Value error, ").replace("Input should be", "it should be")
        if first["type"] == "extra_forbidden":
            remedy = f"this field is not known; known are {', '.join(AthleteFile.model_fields)}"
        raise AthleteFileError(place, f"{remedy[:1].lower()}{remedy[1:]}{given}") from error
    return Athlete(**fields.model_dump())


def read_athlete(text: str, library: Library | None = None) -> Athlete:
    """Return the athlete in a JSON text.

    Raises: AthleteFileError for text that is no JSON or a field that is missing or impossible.
    """
    try:
        data = json.loads(text)
    except json.JSONDecodeError as error:
        place = f"line {error.lineno}, column {error.colno}"
        raise AthleteFileError(place, f"this is not JSON ({error.msg})") from error
    except (ValueError, RecursionError) as error:  # numbers of thousands of digits, lists in lists in lists
        raise AthleteFileError("the file", "a number is too long, or it is nested too deep") from error
    return athlete_from_data(data, library)


def _one_line(text: str) -> str:
    """Return the beginning of a text for a message of one line."""
    return " ".join(text.split())[:MOST_SHOWN]


def athlete_data(athlete: Athlete) -> dict[str, object]:
    """Return an athlete as the JSON object that `athlete_from_data` reads."""
    data = {name: getattr(athlete, name) for name in AthleteFile.model_fields}
    for name in ("unbroken", "one_rep_max_kg", "cycle_s", "flags", "measured_on", "learnt"):
        data[name] = dict(data[name])
    data["together"] = {name: dict(row) for name, row in athlete.together.items()}
    return {name: value for name, value in data.items() if value not in (None, "", {})}
