"""Find: anything by its words."""

import re
from typing import Annotated

from fastapi import APIRouter, Query, Request, Response

from rowanseed.services.palette import ways
from rowanseed.store.search import KIND_WORDS, SORTS, Sort, search
from rowanseed.web.deps import Home, page_or_part
from rowanseed.web.forms import Form

router = APIRouter(include_in_schema=False)
MAKE = re.compile(r"/makes/(\d{1,15})(?:/|$|\?)")


@router.get("/find/quick", name="find_quick")
def quick(request: Request, home: Home, q: Annotated[str, Query(max_length=200)] = "") -> Response:
    """Where the words may lead, as they are typed: places, things to begin, this make's stages, things by name."""
    here = MAKE.search(request.headers.get("HX-Current-URL", ""))
    found = ways(home.conn, q, int(here[1]) if here else None)
    return page_or_part(request, home, "find/quick.html", "find/_quick.html", {"ways": found, "q": q})


@router.get("/find", name="find")
def find(
    request: Request,
    home: Home,
    q: Annotated[str, Query()] = "",
    kind: Annotated[str, Query()] = "",
    sort: Annotated[str, Query()] = "best",
) -> Response:
    """What has these words in it."""
    chosen: Sort = next((name for name, _ in SORTS if name == sort), "best")
    found = search(home.conn, q, kind if kind in KIND_WORDS else "", chosen)
    context = {
        "q": q,
        "kind": kind,
        "sort": chosen,
        "kinds": KIND_WORDS,
        "sorts": SORTS,
        "found": found,
        "form": Form({"q": q, "kind": kind, "sort": chosen}, home.unit),
    }
    return page_or_part(request, home, "find/show.html", "find/_hits.html", context)
