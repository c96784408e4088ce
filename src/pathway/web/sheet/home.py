"""What of a piece can be taken home, one address for each row of the table."""

from collections.abc import Callable

from fastapi import APIRouter
from starlette.responses import Response

from pathway.desk.home import EXPORTS, Export, GoingHome
from pathway.web.shared.deps import DeskOf, IdOf
from pathway.web.shared.files import as_file

router = APIRouter(prefix="/pieces/{key}")


def _taken(export: Export, write: Callable[[GoingHome], bytes]) -> Callable[[int, DeskOf], Response]:
    def take(key: IdOf, desk: DeskOf) -> Response:
        piece, plan = desk.open(key).piece, desk.open(key).plan
        data = write(GoingHome(plan, piece.source, piece.source_name, piece.mei))
        return as_file(data, export.kind, f"{piece.title} {piece.part_name}", export.ending)

    return take


for _export in EXPORTS:
    if _export.write is not None:
        router.get(f"/{_export.address}", name=_export.name)(_taken(_export, _export.write))
