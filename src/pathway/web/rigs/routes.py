"""The rig room: rigs and their numbers, the bounce to measure a bow by, reach and straightness."""

import json
import math
from typing import Annotated

from fastapi import APIRouter, Depends, Form, Query, Request, UploadFile
from pydantic import BaseModel, Field, TypeAdapter, ValidationError
from starlette.responses import Response

from pathway.core.guide.measuring import MEASURES, string_measures
from pathway.core.guide.speech import Speech
from pathway.core.physics.tapping import simulated_taps
from pathway.core.rig import PRESETS, Rig
from pathway.core.rig.arm import Arm
from pathway.errors import NotFound, RigError
from pathway.formats.rig_document import key_of, read_rig, revised, rig_document
from pathway.web.rigs.bounce import BounceView, Taps, hidden_bow
from pathway.web.rigs.reach import ReachView
from pathway.web.rigs.view import CHOICES, RigView
from pathway.web.shared.deps import ChoicesOf, DeskOf, PagesOf, SayOf, go_to

router = APIRouter(prefix="/rigs")
USUAL_ARM = Arm(0.31, 0.37)
_TAPS = TypeAdapter(list[Taps])
MOST_RIG_BYTES = 100_000


@router.get("")
def show_rigs(request: Request, desk: DeskOf, choices: ChoicesOf, pages: PagesOf) -> Response:
    """The player's own rigs and the typical ones."""
    typical = [desk.rigs.find(key) for key in PRESETS]
    context = {"own": desk.rigs.own(), "gone": desk.rigs.gone(), "typical": typical, "default": choices.get().rig}
    return pages.render(request, "rigs/rigs.html", context)


@router.post("/import")
def take_rig(request: Request, file: UploadFile, desk: DeskOf) -> Response:
    """Add a rig from a rig file."""
    data = file.file.read(MOST_RIG_BYTES + 1)
    if len(data) > MOST_RIG_BYTES:
        raise RigError("This file is too large for a rig", advice="Choose a rig file as the rig room exports it.")
    rig = read_rig(data)
    base = rig.key if rig.key in PRESETS else _base_like(rig)
    return _to(request, desk.rigs.add((file.filename or "A rig").removesuffix(".json"), rig, base))


def _base_like(rig: Rig) -> str:
    """Return the typical rig whose lowest string is nearest."""
    pitches = {key: known.instrument.strings[0].midi for key, known in PRESETS.items()}
    return min(pitches, key=lambda key: abs(pitches[key] - rig.instrument.strings[0].midi))


@router.get("/{key}")
def show_rig(request: Request, key: str, desk: DeskOf, choices: ChoicesOf, pages: PagesOf) -> Response:
    """One rig in pictures and numbers."""
    return pages.render(
        request, "rigs/rig.html", {"view": RigView(desk.rigs.find(key), choices.get().rig, choices.get().speech)}
    )


@router.get("/{key}/rig.json")
def take_home(key: str, desk: DeskOf) -> Response:
    """The rig as a file."""
    known = desk.rigs.find(key)
    content = json.dumps(rig_document(known.rig), indent=2)
    headers = {"Content-Disposition": f'attachment; filename="{known.key}.json"'}
    return Response(content, media_type="application/json", headers=headers)


@router.post("/{key}/copy")
def copy_rig(request: Request, key: str, desk: DeskOf, name: Annotated[str, Form(max_length=100)] = "") -> Response:
    """Make a rig of one's own from another."""
    known = desk.rigs.find(key)
    return _to(request, desk.rigs.add(name or f"My {known.name}", known.rig, known.base))


@router.post("/{key}/name")
def name_rig(request: Request, key: str, name: Annotated[str, Form(max_length=100)], desk: DeskOf) -> Response:
    """Give a rig another name."""
    desk.rigs.rename(key, name)
    return _to(request, key)


@router.post("/{key}/default")
def make_default(request: Request, key: str, desk: DeskOf, choices: ChoicesOf) -> Response:
    """Offer a rig first for new pieces."""
    desk.rigs.find(key)
    choices.set(choices.get().model_copy(update={"rig": key}))
    return _to(request, key)


@router.post("/{key}/delete")
def delete_rig(request: Request, key: str, desk: DeskOf, choices: ChoicesOf) -> Response:
    """Let a rig go, unless pieces are played on it."""
    base = desk.rigs.find(key).base
    desk.rigs.delete(key)
    if choices.get().rig == key:
        choices.set(choices.get().model_copy(update={"rig": base}))
    return _to(request, "")


@router.post("/{key}/back")
def bring_back(request: Request, key: str, desk: DeskOf) -> Response:
    """Take a rig that was let go up again."""
    desk.rigs.bring_back(key)
    return _to(request, key)


async def _fields(request: Request) -> dict[str, str]:
    """Return the fields of a form whose names depend on the rig."""
    return {name: value for name, value in (await request.form()).items() if isinstance(value, str)}


@router.post("/{key}/numbers")
def set_numbers(
    request: Request, key: str, form: Annotated[dict[str, str], Depends(_fields)], desk: DeskOf, say: SayOf
) -> Response:
    """Keep other numbers; a typical rig becomes one's own first."""
    known = desk.rigs.find(key)
    measures = (*MEASURES, *string_measures(known.rig))
    view = RigView(known, "", say)
    units = {key_of(measure): measure.unit for measure in measures}
    form = {
        name: view.meant(name, units[name], said) if name in units and said else said for name, said in form.items()
    }
    optional = {key_of(measure) for measure in measures if measure.optional}
    names = [key_of(measure) for measure in measures]
    asked = [f"{name}={form[name]}" for name in (*names, *CHOICES) if form.get(name) or name in optional & form.keys()]
    return _to(request, desk.rigs.changed(known, revised(known.rig, asked)))


@router.get("/{key}/bounce")
def show_bounce(request: Request, key: str, desk: DeskOf, say: SayOf, pages: PagesOf) -> Response:
    """Tap along with the rebounding bow."""
    return pages.render(request, "rigs/bounce.html", {"view": BounceView(desk.rigs.find(key), (), say)})


@router.get("/{key}/bounce/simulated")
def simulate(key: str, place: float, each: int, desk: DeskOf) -> Response:
    """Taps along with a bow that ships with the app: a little looser and held differently than typical."""
    rig = desk.rigs.find(key).rig
    if not 0.03 <= place / 100 <= rig.bow.hair - 0.02 or each not in {1, 2, 4}:
        raise NotFound("There is no such place on the hair", advice="Choose one of the marked places.")
    times = simulated_taps(hidden_bow(rig.bow), place / 100, rebounds_a_tap=each, taps=20, seed=round(place))
    return Response(json.dumps(times), media_type="application/json")


@router.post("/{key}/bounce")
def fit_bounce(
    request: Request,
    key: str,
    taps: Annotated[str, Form(max_length=40_000)],
    desk: DeskOf,
    say: SayOf,
    pages: PagesOf,
) -> Response:
    """What the taps say of the bow so far."""
    view = BounceView(desk.rigs.find(key), _read(taps), say)
    return pages.render(request, "rigs/bounce_result.html", {"view": view})


@router.post("/{key}/bounce/accept")
def accept_bounce(request: Request, key: str, taps: Annotated[str, Form(max_length=40_000)], desk: DeskOf) -> Response:
    """Take the fitted bow into the rig."""
    known = desk.rigs.find(key)
    fitted = BounceView(known, _read(taps)).fit
    asked = [f"bow.tension_n={fitted.bow.tension:.5f}", f"bow.pivot_cm={100 * fitted.bow.pivot:.5f}"]
    if fitted.bow.measured_inertia is not None:
        asked.append(f"bow.inertia_g_m2={1000 * fitted.bow.measured_inertia:.5f}")
    return _to(request, desk.rigs.changed(known, revised(known.rig, asked)))


def _read(taps: str) -> tuple[Taps, ...]:
    try:
        return tuple(_TAPS.validate_json(taps))
    except ValidationError as error:
        raise RigError("These taps could not be read", advice="Tap again.") from error


class ArmForm(BaseModel):
    """Lengths of an arm, in the player's unit."""

    upper: Annotated[float | None, Field(ge=1, le=100)] = None
    fore: Annotated[float | None, Field(ge=1, le=100)] = None

    def arm(self, say: Speech) -> Arm:
        """Return the arm."""
        pairs = ((self.upper, USUAL_ARM.upper), (self.fore, USUAL_ARM.fore))
        return Arm(*(usual if said is None else say.meant(said, "cm") / 100 for said, usual in pairs))


@router.get("/{key}/reach")
def show_reach(
    request: Request, key: str, form: Annotated[ArmForm, Query()], desk: DeskOf, say: SayOf, pages: PagesOf
) -> Response:
    """Reach and straightness."""
    return pages.render(request, "rigs/reach.html", {"view": ReachView(desk.rigs.find(key), form.arm(say), say)})


@router.post("/{key}/reach")
def use_reach(request: Request, key: str, form: Annotated[ArmForm, Form()], desk: DeskOf, say: SayOf) -> Response:
    """Let the hair end where the arm does."""
    known = desk.rigs.find(key)
    furthest = ReachView(known, form.arm(say)).reach.furthest
    return _to(
        request, desk.rigs.changed(known, revised(known.rig, [f"usable_cm.1={math.floor(1000 * furthest) / 10}"]))
    )


def _to(request: Request, key: str) -> Response:
    return go_to(request, f"/rigs/{key}".rstrip("/"))
