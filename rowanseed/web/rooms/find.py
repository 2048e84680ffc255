"""Find: anything by its words."""

from typing import Annotated

from fastapi import APIRouter, Query, Request, Response

from rowanseed.store.search import KIND_WORDS, SORTS, Sort, search
from rowanseed.web.deps import Home, page_or_part
from rowanseed.web.forms import Form

router = APIRouter(include_in_schema=False)


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
