"""What the interface refuses though its schema allows it: rules that no schema can say, told in each operation's description.

Each is a pattern of the answer's message and the sentence that stands in the description; a test holds that a request which keeps
to the schema is answered 422 by these rules only.
"""

import re
from collections.abc import Mapping
from typing import Any

from fastapi import FastAPI

Rule = tuple[str, str]
LENGTHS: Rule = (
    r"^Input should be (?:less|greater) than",
    "A length written with its unit is held to the same limits as one in millimetres.",
)
OUTLINES: Rule = (
    r"encloses no area|crosses itself|at least three points",
    "An outline encloses an area, has three points and does not cross itself.",
)
THERE = "Alterations, seams, notches and edges speak of pieces that are there."
KNOWN: tuple[Rule, ...] = (
    (r"^There is no feature", "Features and their choices are those of `GET /api/v1/features`."),
    (r"has no choice|is no choice|cannot be “", "A choice is one that its feature has."),
    (
        r"^There is no (?:school|unit|kind|tool|step|place|verb|figure)",
        "Schools, units, tools and figures are those that are known.",
    ),
    (r"^A list of choices", "A list of choices names at least one."),
    (
        r"edge|seam|page|piece|stack",
        "Seams and fates speak of edges that the pieces have, and an edge lies in a seam or ends by itself.",
    ),
    (r"valid dictionary or instance", "A figure of an edge is an object, of the garment a length or a number."),
    (
        r"steps? of your own|own step|in it twice|more than once",
        "Steps of one's own have texts, and follow steps that are there.",
    ),
)
FILES: tuple[Rule, ...] = (
    (r"is empty|no pattern file|not a photograph|is damaged|larger inside", "The file is one that can be read here."),
    (
        r"^(?:options|head|marks|points|corners)\b.*(?:JSON|Input|Field)|Expected UploadFile",
        "`options` is JSON, and the file a file.",
    ),
    (r"sheet|photograph|corner|scale|dpi", "The photograph shows what it is measured by."),
)
LAYS: tuple[Rule, ...] = (
    (r"selvage", "A selvage lies within the cloth's width."),
    (r"At most|at most|more than \d+", "No more pieces, points, matches or flaws than a lay can have."),
    (
        r"fold|grain|bias|off its grain|once|name|mark|repeat|match|locked|lies on the cloth|piece",
        "Pieces, marks and matches fit together.",
    ),
)
RULES: Mapping[str, tuple[Rule, ...]] = {
    "/api/v1/size-advice": (
        (r"needed both of the body and in the chart", "What is chosen by is given of the body and in the chart."),
        (r"must rise from", "Figures of the chart rise from size to size."),
        (r"ends below where it begins", "A range ends above where it begins."),
        (r"have the same name", "Each size has a name of its own."),
        (r"chart|size|body", "Body and chart can be compared."),
    ),
    "/api/v1/alter": (OUTLINES, (r"piece|edge|alteration|kind|seam|notch", THERE)),
    "/api/v1/seam-walk": (OUTLINES, (r"piece|edge|seam|notch", THERE)),
    "/api/v1/shapes/{name}": ((r".", "The shape has these figures, and they make a piece."),),
    "/api/v1/reckon/{name}": ((r".", "The sum has these figures, and they can be meant."),),
    "/api/v1/intake": FILES,
    "/api/v1/trace": FILES,
    "/api/v1/lay": (OUTLINES, *LAYS),
    "/api/v1/yardage": (OUTLINES, *LAYS),
    "/api/v1/sheets": (OUTLINES, (r"id|wider|paper|overlap|point", "Pieces have ids of their own and fit on the paper.")),
    "/api/v1/sheet": (
        *KNOWN,
        (r"PDF|picture|file|JSON|pages|options", "The file is a PDF that holds text, `options` is JSON, pages are such as 1-3."),
    ),
    "/api/v1/sequence": KNOWN,
    "/api/v1/sequence/check": KNOWN,
}  # fmt: skip


def is_told(path: str, message: str) -> bool:
    """Return whether a refusal keeps to a rule that its operation's description tells."""
    return any(re.search(pattern, message) for pattern, _ in (LENGTHS, *RULES.get(path, ())))


def tell_rules(app: FastAPI) -> None:
    """Put the rules into the descriptions of the application's own account of itself."""
    described = app.openapi

    def with_rules() -> dict[str, Any]:
        fresh = app.openapi_schema is None
        account = described()
        for path, item in account["paths"].items() if fresh else ():
            operation = item.get("post")
            if operation is not None and path in RULES:
                told = " ".join(sentence for _, sentence in (*RULES[path], LENGTHS))
                operation["description"] = (
                    f"{operation.get('description', '')}\n\nBeyond what the schema says: {told}".strip()
                )
        return account

    app.openapi = with_rules  # type: ignore[method-assign]
