"""/docs, offline: the vendored page over our own OpenAPI description."""

from fastapi import APIRouter, Request, Response

from rowanseed.web.deps import Home, page

router = APIRouter(include_in_schema=False)


@router.get("/docs", name="docs")
def show(request: Request, home: Home) -> Response:
    """The JSON interface, described and ready to try."""
    return page(request, home, "docs.html", {})
