"""The Flask application."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Any

from flask import Response, send_file, send_from_directory
from flask.json.provider import DefaultJSONProvider
from flask_openapi3 import Info, OpenAPI

from .. import __version__
from ..core.files.json_text import read_json
from ..store.database import Database
from . import (
    brief_api,
    builds_api,
    events_api,
    faults,
    kinds_api,
    lattice_api,
    looks_api,
    meshes_api,
    models_api,
    pictures_api,
    stock_api,
    together_api,
    wrap_api,
)
from .asker import Waiting
from .brief_schemas import BriefState
from .environment import LARGEST_REQUEST
from .gate import OWN_HEADER, Gate
from .preview_door import PreviewDoor
from .schemas import Build, PartMesh, Trial
from .workroom import Workroom

INTERFACE = Path(__file__).resolve().parents[3] / "web" / "dist"
#: the OpenAPI document as ``rhytonic openapi`` wrote it
DESCRIPTION = INTERFACE.parent / "openapi.json"
ABOUT = (f"Every request but a GET carries the header {OWN_HEADER}, with any value; without it, it is refused. A window of "
         "the interface sends its own name there, 'w-' and at least eight letters, digits or hyphens: undo is by window.")

class BoundedJson(DefaultJSONProvider):
    """JSON from outside is bounded and strict everywhere."""

    def loads(self, s: str | bytes, **kwargs: Any) -> Any:
        """JSON as a value, refused where it is too deep."""
        return read_json(s)


def create_app(url: str | None = None, interface: Path = INTERFACE) -> OpenAPI:
    """The application over the database at ``url`` (or RHYTONIC_DATABASE_URL)."""
    info = Info(title="Rhytonic", version=__version__, description=ABOUT)
    app = OpenAPI(__name__, info=info, doc_ui=False, static_folder=None,
                  validation_error_callback=faults.refused_body, validation_error_status=422)
    app.json_provider_class = BoundedJson
    app.json = BoundedJson(app)
    app.config["MAX_CONTENT_LENGTH"] = LARGEST_REQUEST
    app.extensions["workroom"] = Workroom(Database(url or os.environ["RHYTONIC_DATABASE_URL"]))
    faults.register(app)
    for module in (builds_api, events_api, meshes_api, brief_api, pictures_api, models_api, together_api, stock_api,
                   looks_api, kinds_api, lattice_api, wrap_api):
        app.register_api(module.api)

    @app.route("/api/openapi.json")
    def openapi_document() -> Any:
        return send_file(DESCRIPTION, mimetype="application/json", max_age=0)

    @app.route("/")
    @app.route("/<path:name>")
    def page(name: str = "index.html") -> Any:
        if name.startswith("api/") or any(part.startswith(".") for part in name.split("/")):
            return {"code": "not_there", "message": "there is no such address"}, 404
        found = (interface / name).is_file() and name != "index.html"
        response = send_from_directory(interface, name if found else "index.html",
                                       max_age=31536000 if name.startswith("assets/") else 0)
        return response

    @app.after_request
    def _headers(response: Response) -> Response:
        if response.mimetype == "application/json":
            response.headers.setdefault("Cache-Control", "no-store")
        return response

    door = PreviewDoor(app.wsgi_app, app.extensions["workroom"], LARGEST_REQUEST)
    app.wsgi_app = Gate(Waiting(door))  # type: ignore[method-assign]
    return app


def openapi(app: OpenAPI) -> dict[str, Any]:
    """The OpenAPI document, with the schemas of what is read and written without the framework's help."""
    document: dict[str, Any] = app.api_doc
    schemas = document["components"]["schemas"]
    if document["components"].get("securitySchemes") is None:
        document["components"].pop("securitySchemes", None)
    for model in (PartMesh, Trial, BriefState, Build):
        whole = model.model_json_schema(ref_template="#/components/schemas/{model}",
                                        mode="serialization" if model is Build else "validation")
        schemas |= whole.pop("$defs", {})
        schemas[model.__name__] = whole
    return document
