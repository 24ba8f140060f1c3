"""The routes of tables: points, faces and shards with all their values."""

from __future__ import annotations

from flask import Response, current_app, jsonify
from flask_openapi3 import APIBlueprint

from zygomorph.api.routes import FAILURES, HEAT, service
from zygomorph.api.shapes import PiecePath
from zygomorph.api.table_shapes import HeatQuery, NumbersQuery, TablePage, TableQuery
from zygomorph.api.tables import Tables
from zygomorph.core.formats.names import safe_name

table_routes = APIBlueprint("tables", __name__, url_prefix="/api", abp_responses=FAILURES)


def tables() -> Tables:
    return current_app.extensions["zygomorph-tables"]


@table_routes.get(
    "/studies/<string:study_id>/pieces/<string:piece_id>/table", responses={200: TablePage}
)
def get_table(path: PiecePath, query: TableQuery) -> Response:
    """Points, faces or shards with all their values, a page at a time."""
    study = service().study(service().studies.document(path.study_id))
    return jsonify(tables().page(study, path.piece_id, query))


@table_routes.get(
    "/studies/<string:study_id>/pieces/<string:piece_id>/table.csv",
    responses={200: {"content": {"text/csv": {"schema": {"type": "string"}}}}},
)
def get_table_csv(path: PiecePath, query: TableQuery) -> Response:
    """All rows of the table that pass the filters, as text (RFC 4180)."""
    stored = service().studies.get(path.study_id)
    study = service().study(stored.document)
    name = f"{safe_name(study.piece(path.piece_id)['name'])}-{query.domain}s.csv"
    response = Response(tables().csv(study, path.piece_id, query), mimetype="text/csv")
    response.headers["Content-Disposition"] = f"attachment; filename={name}"
    return response


@table_routes.get("/studies/<string:study_id>/pieces/<string:piece_id>/heat", responses={200: HEAT})
def get_heat(path: PiecePath, query: HeatQuery) -> Response:
    """A column of the table at the points, as shares of its range."""
    study = service().study(service().studies.document(path.study_id))
    data = tables().heat(study, path.piece_id, query, query.column)
    return Response(data, mimetype="application/octet-stream")


@table_routes.get(
    "/studies/<string:study_id>/pieces/<string:piece_id>/numbers", responses={200: HEAT}
)
def get_numbers(path: PiecePath, query: NumbersQuery) -> Response:
    """A column of the table at the elements that pass the filters, with their places."""
    study = service().study(service().studies.document(path.study_id))
    data = tables().numbers(study, path.piece_id, query, query.column, query.most)
    return Response(data, mimetype="application/octet-stream")
