"""The users' guide and the trade's words, as the content has them."""

from importlib import resources
from pathlib import Path

from fastapi import APIRouter, Request, Response
from fastapi.responses import FileResponse
from markdown_it import MarkdownIt

from rowanseed.formats.words import words
from rowanseed.store import db
from rowanseed.web.deps import Home, page

router = APIRouter(include_in_schema=False)
CHAPTERS = (
    ("first-make", "The first make"),
    ("tissue", "A pattern on tissue"),
    ("files", "A pattern as a file"),
    ("fit", "Size, measures and alterations"),
    ("lay", "The lay, and prints"),
    ("short-cloth", "When the cloth is short"),
    ("linings", "Linings and facings"),
    ("sewing", "The order, and your own steps"),
    ("tablet", "At the table and at the machine"),
    ("backup", "Backups, and moving"),
)
PICTURES = (
    Path(__file__).parents[3] / "docs" / "screenshots"
)  # they lie beside the source; an installed copy goes without


@router.get("/words", name="words")
def all_words(request: Request, home: Home) -> Response:
    """Every word, with its picture."""
    return page(request, home, "guide/words.html", {"words": words()})


@router.get("/guide", name="guide")
def contents(request: Request, home: Home) -> Response:
    """The chapters."""
    return page(request, home, "guide/show.html", {"chapters": CHAPTERS, "chapter": None, "text": ""})


@router.get("/guide/pictures/{name}", name="guide_picture")
def picture(name: str) -> Response:
    """A picture of the guide. Raises NotFound."""
    file = PICTURES / name
    if file.suffix != ".png" or file.parent != PICTURES or not file.is_file():
        raise db.NotFound("There is no such picture.")
    return FileResponse(file, media_type="image/png")


@router.get("/guide/{chapter}", name="guide_chapter")
def chapter(request: Request, home: Home, chapter: str) -> Response:
    """A chapter. Raises NotFound."""
    if chapter not in dict(CHAPTERS):
        raise db.NotFound("There is no such chapter.")
    source = resources.files("rowanseed.content").joinpath("guide", f"{chapter}.md").read_text(encoding="utf-8")
    text = MarkdownIt().render(source.replace("](../screenshots/", "](/guide/pictures/"))
    context = {"chapters": CHAPTERS, "chapter": chapter, "text": text}
    return page(request, home, "guide/show.html", context)
