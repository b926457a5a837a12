"""The one boundary where errors become RFC 9457 problem documents."""

from __future__ import annotations

from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel
from starlette.exceptions import HTTPException

from netnaught.services import errors


class Notice(BaseModel):
    """Something that must be confirmed before storing."""

    kind: str
    text: str


class Problem(BaseModel):
    """An RFC 9457 problem document; the members after `detail` say where."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    field: str | None = None
    file: str | None = None
    line: int | None = None
    column: str | int | None = None
    value: str | None = None
    notices: list[Notice] = []


_STATUS: tuple[tuple[type[errors.ServiceError], int, str], ...] = (
    (errors.NotSignedIn, 401, "Not signed in"),
    (errors.TooManyAttempts, 429, "Too many attempts"),
    (errors.NotFound, 404, "Not found"),
    (errors.Forbidden, 403, "Not allowed"),
    (errors.BadInput, 422, "Cannot be read"),
    (errors.Refused, 422, "Refused"),
    (errors.Conflict, 409, "No longer as it was"),
    (errors.BankUnavailable, 502, "The bank does not answer"),
    (errors.ConfirmationNeeded, 428, "Please confirm"),
)

RESPONSES: dict[int | str, dict[str, Any]] = {
    code: {"model": Problem, "content": {"application/problem+json": {}}}
    for code in (400, 401, 403, 404, 409, 413, 422, 428, 429, 502)
}


def _answer(problem: Problem, headers: dict[str, str] | None = None) -> JSONResponse:
    body = problem.model_dump(exclude_none=True)
    return JSONResponse(body, problem.status, headers=headers, media_type="application/problem+json")


def _service_error(error: errors.ServiceError) -> JSONResponse:
    status, title = next((s, t) for kind, s, t in _STATUS if isinstance(error, kind))
    problem = Problem(title=title, status=status, detail=error.message)
    headers: dict[str, str] = {}
    if isinstance(error, errors.BadInput):
        places = {"field": error.field, "file": error.file, "line": error.line, "column": error.column}
        problem = problem.model_copy(update={**places, "value": error.value})
    elif isinstance(error, errors.ConfirmationNeeded):
        notices = [Notice(kind=kind, text=text) for kind, text in error.notices]
        problem = problem.model_copy(update={"notices": notices})
    elif isinstance(error, errors.TooManyAttempts):
        headers["Retry-After"] = str(error.seconds)
    return _answer(problem, headers)


def _validation_error(error: RequestValidationError) -> JSONResponse:
    first = error.errors()[0]
    place = ".".join(str(part) for part in first["loc"][1:]) or "body"
    given = first.get("input")
    value = str(given)[:60] if isinstance(given, str | int | float) else None
    value = value.encode("utf-8", "replace").decode() if value is not None else None
    detail = f"{place}: {first['msg']}. Nothing was changed."
    return _answer(Problem(title="Cannot be read", status=422, detail=detail, field=place, value=value))


def install(app: FastAPI) -> None:
    """Answer every error of this application with a problem document."""

    @app.exception_handler(errors.ServiceError)
    def service(_: Request, error: errors.ServiceError) -> JSONResponse:
        return _service_error(error)

    @app.exception_handler(RequestValidationError)
    def validation(_: Request, error: RequestValidationError) -> JSONResponse:
        return _validation_error(error)

    @app.exception_handler(HTTPException)
    def http(_: Request, error: HTTPException) -> JSONResponse:
        problem = Problem(title=str(error.detail), status=error.status_code, detail=str(error.detail))
        return _answer(problem, dict(error.headers or {}))
