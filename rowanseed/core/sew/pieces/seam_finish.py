"""How a seam's raw edges are finished: after it is sewn, in the same pass, or by the way it is sewn. Common practice, no source."""

from collections.abc import Sequence

from rowanseed.core.sew.model import Place
from rowanseed.core.sew.pieces.making import StepsAsked, Work
from rowanseed.core.sew.pieces.model import PiecedGarment, StackedSeam, base_of
from rowanseed.core.sew.pieces.said import names_of_seam

# After the seam is sewn: the place, and what is done to each edge or both.
AFTER: dict[str, tuple[Place, str]] = {
    "overlocked": ("overlocker", "Overlock"),
    "zigzag": ("machine", "Zigzag"),
    "pinked": ("table", "Pink"),
    "hand": ("hand", "Overcast by hand"),
    "turned": ("machine", "Turn under and edge-stitch"),
    "bound": ("machine", "Bind"),
    "hong-kong": ("machine", "Bind with a bias strip, its back edge left flat,"),
}
EACH = frozenset({"turned", "hong-kong"})  # these need the edges apart
CURVED = frozenset(
    {"armhole", "cap", "cap-front", "cap-back", "crotch", "neck"}
)  # no French or felled seam lies flat there
TRIMMED = "It is sewn before it is trimmed."
SHUT_IN = "The trimmed edges are shut in by it."


def finish_of(asked: StepsAsked, seam: StackedSeam) -> str:
    """How a seam is finished: as said, where its shape and the tools allow; else overlocked, zigzagged or overcast."""
    said, g = asked.said, asked.garment
    usual = "overlocked" if asked.overlocker else "hand" if said.by_hand else "zigzag"
    if said.cloth.knit and asked.overlocker:
        usual = "overlocked-seam"
    way = said.choice("seam-finish", names_of_seam(g, seam)) or usual
    curved = any(base_of(e.rpartition(".")[2]) in CURVED for e in seam.edges)
    if way in ("french", "flat-felled") and curved:
        return usual
    return usual if way in ("overlocked", "piped") and not (asked.overlocker and way == "overlocked") else way


def sew_and_finish(
    work: Work, asked: StepsAsked, seams: Sequence[StackedSeam], name: str, *, apart: bool, run: str = ""
) -> None:
    """The steps of a seam from its first row to the press; `apart`: its edges may lie open; `run`: how the row goes, in words."""
    way = finish_of(asked, seams[0])
    if asked.said.choice("seam-finish", names_of_seam(asked.garment, seams[0])) == "piped":
        work.then("decorate", f"Baste the piping to one edge of {name}", name="pipe")
    if way == "french":
        work.then("join", f"Sew {name}{run} wrong sides together", name="sew", numbers=("seam", "french-seam"))
        work.then("trim", f"Trim {name} and fold the right sides together", "table", TRIMMED)
        work.then("finish", f"Sew {name} again, its raw edges inside", why=SHUT_IN, law="finish")
    elif way == "flat-felled":
        work.then("join", f"Sew {name}{run}", name="sew", numbers=("seam",))
        work.then("trim", f"Trim one allowance of {name} to half", "table", TRIMMED)
        work.then(
            "finish",
            f"Fold the wider allowance of {name} over the narrow one and stitch it flat",
            why=SHUT_IN,
            law="finish",
        )
    elif way == "overlocked-seam":
        place: Place = "overlocker" if asked.overlocker else "machine"
        how = (
            "on the overlocker, finished in the same pass"
            if asked.overlocker
            else "with a narrow zigzag through both edges"
        )
        work.then("join", f"Sew {name}{run} {how}", place, name="sew", numbers=("seam",))
    else:
        work.then("join", f"Sew {name}{run}", name="sew", numbers=("seam",))
        finish(work, asked, seams, name, apart=apart)
    why = "It is pressed once its raw edges are finished." if len(work.done) > 1 else "It is sewn first."
    opened = "open" if opens(asked, seams, way, apart) else "to one side"
    work.then("press", f"Press {name} {opened}", "iron", why, "finish")


def finish(work: Work, asked: StepsAsked, seams: Sequence[StackedSeam], name: str, *, apart: bool) -> None:
    """The step that finishes the raw edges of a sewn seam; none where they are left."""
    way = finish_of(asked, seams[0])
    if way not in AFTER:
        if way == "none":
            return
        way = "zigzag" if not asked.said.by_hand else "hand"
    place, how = AFTER[way]
    edges = "each edge by itself" if opens(asked, seams, way, apart) else "both edges together"
    work.then("finish", f"{how} {name}, {edges}", place, law="finish", numbers=("zigzag",) if way == "zigzag" else ())


def opens(asked: StepsAsked, seams: Sequence[StackedSeam], way: str, apart: bool) -> bool:
    """Whether a seam is pressed open: where nothing crosses it, as the school has it."""
    if way in ("french", "flat-felled", "overlocked-seam") or not apart:
        return False
    return way in EACH or asked.said.schools.get("seam-pressing", "open") == "open"


def finished_lining(asked: StepsAsked, g: PiecedGarment, seams: Sequence[StackedSeam]) -> bool:
    """Whether a lining's seam gets a finish: only where that was said, since most linings are closed."""
    return bool(asked.said.choice("seam-finish", [n for n in names_of_seam(g, seams[0]) if "lining" in n]))
