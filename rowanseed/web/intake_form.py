"""The form under what was read of a file: sizes named, pieces taken, changed or left."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from rowanseed.core.errors import IntakeError
from rowanseed.core.intake.accept import PieceChoice, as_piece, seam_allowance_of
from rowanseed.core.intake.leave import without_marks
from rowanseed.core.intake.model import Intake, ProposedPiece
from rowanseed.core.pattern.model import ROLES, Pattern, Piece
from rowanseed.web.forms import Form


@dataclass
class PieceRow:
    """One proposed piece as the form shows it: what was typed, and what is wrong."""

    at: int
    piece: ProposedPiece
    taken: bool
    typed: Mapping[str, str]
    errors: dict[str, str] = field(default_factory=dict)

    @property
    def sizes(self) -> str:
        """Its sizes in words."""
        names = [s for s in self.piece.sizes if s]
        return f"{names[0]} to {names[-1]}" if len(names) > 1 else names[0] if names else "one size"

    @property
    def has(self) -> str:
        """What was found in it, in words."""
        lines = next(iter(self.piece.sizes.values()))
        counts = (
            ("notch", "notches", len(lines.notches)),
            ("dot", "dots", len(lines.points)),
            ("inner line", "inner lines", len(lines.internal)),
        )
        words = [f"{n} {one if n == 1 else many}" for one, many, n in counts if n]
        first = "fold" if lines.fold_edge else "grain" if lines.grain else "no grain found"
        return ", ".join([first, *words, *(["seam line"] if lines.seam_line else [])])


def rows_of(intake: Intake, form: Form | None) -> list[PieceRow]:
    """Return the form's rows: as proposed, or as they were typed."""
    rows = []
    for k, piece in enumerate(intake.pieces):
        proposed = {
            "number": piece.number,
            "name": piece.name,
            "cut": str(piece.cut),
            "role": piece.role or "self",
            "mirrored": "on" if piece.mirrored else "",
            "left": "",
        }
        if form is None:
            rows.append(PieceRow(k, piece, True, proposed))
        else:
            typed = {key: form.typed.get(f"{key}-{k}", "") for key in proposed}
            rows.append(PieceRow(k, piece, form.flag(f"take-{k}"), typed))
    return rows


def usual_allowance(intake: Intake) -> float | None:
    """Return the allowance that most pieces' seam lines show, mm."""
    found = [a for p in intake.pieces if (a := seam_allowance_of(p)) is not None]
    return max(set(found), key=found.count) if found else None


def read_sizes(form: Form, intake: Intake, pattern: Pattern | None) -> dict[str, str]:
    """Return which of the pattern's sizes each of the file's is; left out where its field is empty. Errors stand in the form."""
    known = pattern.size_names() if pattern else ()
    chosen: dict[str, str] = {}
    for k, size in enumerate(intake.sizes):
        name = form.text(f"size-{k}", most=20) or ("" if size else "one")
        if not name:
            continue
        if known and name not in known:
            form.errors[f"size-{k}"] = f"The pattern's sizes are {', '.join(known)}."
        elif name in chosen.values():
            form.errors[f"size-{k}"] = f"Two sizes are called {name}."
        chosen[size] = name
    if not chosen:
        form.errors["size-0"] = "Keep at least one size."
    return chosen


def read_pieces(
    form: Form, intake: Intake, rows: Sequence[PieceRow], sizes: Mapping[str, str], pattern: Pattern
) -> list[Piece]:
    """Return the pieces that are taken, in their order. What is wrong stands in the rows and in the form."""
    allowance = form.length("allowance", most_mm=100)
    own = form.typed.get("allowance_from", "drawn") == "drawn"
    taken: list[Piece] = []
    numbers = {p.number for p in pattern.pieces}
    for row in rows:
        if not row.taken:
            continue
        part = Form(row.typed, form.unit)
        number, name = part.text("number", "A number", 40), part.text("name", "A name", 120)
        cut = part.number("cut", "How many", 1, 100)
        role = part.choice("role", ROLES)
        if number in numbers:
            part.errors["number"] = f"There is a piece {number} already."
        numbers.add(number)
        left = {z: lines for z, lines in row.piece.sizes.items() if z in sizes}
        if not left:
            part.errors["name"] = "None of its sizes is kept."
        row.errors = part.errors
        if not part.sound:
            continue
        drawn = seam_allowance_of(row.piece) if own else None
        choice = PieceChoice(
            number,
            name,
            cut,
            role,
            part.flag("mirrored") and cut > 1,
            (),
            drawn if drawn is not None else allowance.mm if allowance else None,
            form.typed.get("outline", "cutting") == "cutting",
            sizes,
        )
        try:
            marked = without_marks(replace(row.piece, sizes=left), part.typed.get("left", "").split())
            kept = ProposedPiece(name, number, cut, marked.sizes, row.piece.findings)
            taken.append(as_piece(kept, choice, pattern.garment))
        except IntakeError as error:
            row.errors["name"] = error.text
    if any(row.errors for row in rows):
        form.errors["pieces"] = "Some pieces need a look: what is wrong stands beside them."
    elif not taken:
        form.errors["pieces"] = "Take at least one piece."
    return taken
