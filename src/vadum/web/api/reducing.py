"""The stable HTTP interface for scripts: methods and reduction of bench files."""

from typing import Annotated, Any

from fastapi import APIRouter, Depends, Request, Response

from vadum.exchange import bench_file
from vadum.soil.contract.method import Description, describe
from vadum.soil.contract.reduction import Reduction
from vadum.soil.registry import METHODS
from vadum.soil.registry import method as method_of

router = APIRouter(prefix="/api", tags=["reduction"])

_EXAMPLE = {
    "format": bench_file.FORMAT,
    "method": "water-content",
    "readings": {"determinations": [{"mass_tin_g": 17.4, "mass_tin_wet_g": 58.62, "mass_tin_dry_g": 51.94}]},
}


@router.get("/methods")
def methods() -> list[dict[str, Any]]:
    """List the methods; each one's schemas are at /api/methods/{code}."""
    return [{"code": m.code, "title": m.title, "version": m.version, "basis": list(m.basis)} for m in METHODS.values()]


@router.get("/methods/{code}", responses={404: {"description": "no such method"}})
def one_method(code: str) -> Description:
    """Describe a method with the JSON Schemas of its readings, settings and context."""
    return describe(method_of(code))


async def _body(request: Request) -> bytes:
    return await request.body()


@router.post(
    "/reduce",
    response_model=Reduction,
    responses={413: {"description": "too large"}, 422: {"description": "faults, each with its place"}},
    openapi_extra={"requestBody": {"content": {"application/json": {"example": _EXAMPLE}}, "required": True}},
)
def reduce(raw: Annotated[bytes, Depends(_body)]) -> Response:
    """Reduce a bench file; the same file that ``vadum reduce`` reads."""
    reduction = bench_file.parse(raw).reduce()
    return Response(reduction.model_dump_json(), media_type="application/json")
