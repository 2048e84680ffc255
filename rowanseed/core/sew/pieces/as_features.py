"""A pieced garment's form in the words of features, for the figures that are worked out from these: pieces go before choices."""

from collections.abc import Mapping

from rowanseed.core.sew.model import several
from rowanseed.core.sew.pieces.model import PiecedGarment

OF_A_TOP = ("neck", "neck-shape", "collar", "sleeve", "armhole", "straps", "shoulder-pads", "front")
TOPS = frozenset({"body", "bodice", "yoke", "strap"})
# A unit that is there: the feature it means, and how where nothing closer was chosen.
MEANT = (
    ("waistband", "waist", "band"),
    ("leg", "legs", "trousers"),
    ("sleeve", "sleeve", "set-in"),
    ("cuff", "cuff", "band"),
    ("stand", "collar", "two-piece"),
    ("collar", "collar", "one-piece"),
    ("hood", "collar", "hooded"),
)


def features_of(g: PiecedGarment, given: Mapping[str, str], defaults: Mapping[str, str]) -> dict[str, str]:
    """Return every feature with what the garment has of it, one choice each."""
    units = {p.unit for p in g.pieces}
    done = {name: several(given.get(name, usual))[0] for name, usual in defaults.items()}
    if not units & TOPS:
        done |= {name: defaults[name] for name in OF_A_TOP}
    for unit, feature, choice in MEANT:
        if unit in units and done[feature] == "none":
            done[feature] = choice
    if units & {"bodice"} and units & {"skirt", "leg"}:
        done["waist-seam"] = "joined"
    if done["lining"] == "none" and any(p.layer == "lining" for p in g.pieces):
        done["lining"] = "sewn-in"
    return done


def kind_of(g: PiecedGarment) -> str:
    """The kind of garment that pieces without a top are: trousers, skirt; "" for all else."""
    units = {p.unit for p in g.pieces}
    if units & TOPS:
        return ""
    return "trousers" if "leg" in units else "skirt" if "skirt" in units else ""
