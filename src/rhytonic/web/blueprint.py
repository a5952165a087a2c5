"""Blueprints that describe themselves only when the description is wanted: it takes as long as all other imports."""

from __future__ import annotations

import os
from typing import Any

from flask_openapi3 import APIBlueprint, Tag

from .environment import DESCRIBE


def blueprint(name: str, module: str, prefix: str, responses: dict[int, Any]) -> APIBlueprint:
    """One resource of the API.

    Args:
        module: name of the module it stands in.
        responses: refusals that any of its endpoints may give.
    """
    return APIBlueprint(name, module, url_prefix=prefix, abp_tags=[Tag(name=name)], abp_responses=responses,
                        doc_ui=os.environ.get(DESCRIBE) == "1")
