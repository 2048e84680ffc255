"""What else a fault can come from: other places that show the same folds and lines, the likelier first.

Drag lines point to where the cloth is short, folds to where there is too much; several shortages draw alike. The order, and the
sign by which one is told from the other, are common practice, no published source.
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from rowanseed.core.errors import Finding
from rowanseed.core.fit.kinds import Alteration
from rowanseed.core.fit.record import FitNote, propose
from rowanseed.core.pattern.model import Pattern


@dataclass(frozen=True)
class OtherCause:
    """A place and a fault there that look like another, and the sign by which this one is told."""

    place: str
    fault: str
    told_by: str
    half: str = ""  # front or back, where the place is on both


OTHERS: Mapping[tuple[str, str], tuple[OtherCause, ...]] = {
    ("bust", "tight"): (
        OtherCause("upper-back", "tight", "it also pulls when the arms are drawn forward"),
        OtherCause("chest", "full", "the lines lie above the bust"),
    ),
    ("waist", "tight"): (OtherCause("front-hip", "tight", "it is tight in front alone"),),
    ("hip", "tight"): (
        OtherCause("seat", "tight", "the side seam swings back, the hem rises behind"),
        OtherCause("front-hip", "tight", "the side seam swings forward, the hem rises in front"),
    ),
    ("lower-back", "pools"): (
        OtherCause("hip", "tight", "the folds go when the side seams are opened over the hip"),
        OtherCause("body-length", "long", "folds lie at the front waist too"),
    ),
    ("upper-back", "pulls"): (
        OtherCause("upper-back", "tight", "the lines run straight across, from armhole to armhole"),
        OtherCause("shoulder-line", "back", "the sleeve's seam is drawn back at the top"),
    ),
    ("upper-back", "tight"): (OtherCause("upper-back", "pulls", "the hem rides up behind"),),
    ("chest", "hollow"): (
        OtherCause("shoulder", "loose", "the folds run out to the arm"),
        OtherCause("neck", "gapes", "the neck's edge stands off and the rest lies well"),
    ),
    ("neck", "gapes"): (
        OtherCause("chest", "hollow", "cloth is loose down to the bust"),
        OtherCause("bust", "tight", "the bust is full and the folds point to it"),
        OtherCause("shoulder", "loose", "it lies well when the shoulder is pinned up"),
    ),
    ("shoulder", "loose"): (
        OtherCause("shoulder-line", "back", "only the front is loose"),
        OtherCause("shoulder-line", "long", "the sleeve's seam hangs off the shoulder"),
    ),
    ("seat", "tight"): (
        OtherCause("inner-leg", "pulls", "the lines begin at the crotch", "back"),
        OtherCause("hip", "tight", "it is tight all round, in front too"),
    ),
    ("seat", "flat"): (
        OtherCause("inner-leg", "folds", "the folds hang between the legs", "back"),
        OtherCause("hip", "wide", "it is wide all round, in front too"),
    ),
    ("inner-leg", "pulls"): (
        OtherCause("inner-leg", "thigh", "the lines run round the thigh"),
        OtherCause("crotch", "tight", "it cuts in when one sits"),
        OtherCause("seat", "tight", "the waist is drawn down behind"),
    ),
    ("inner-leg", "folds"): (OtherCause("seat", "flat", "the folds lie below the seat"),),
    ("crotch", "tight"): (
        OtherCause("rise", "short", "the waist is drawn down all round"),
        OtherCause("inner-leg", "pulls", "lines run up from the crotch"),
    ),
    ("upper-arm", "tight"): (
        OtherCause("upper-back", "tight", "it pulls only when one reaches forward"),
        OtherCause("elbow", "tight", "it pulls only with the arm bent"),
    ),
    ("elbow", "tight"): (OtherCause("sleeve-length", "short", "the wrist is drawn up when the arm is bent"),),
    ("shoulder-line", "short"): (OtherCause("upper-back", "tight", "the sleeve's seam is drawn in half way down too"),),
}


@dataclass(frozen=True)
class OtherWay:
    """Another cause with the alteration that it would take, and the sign by which it is told."""

    alteration: Alteration
    told_by: str


def other_ways(note: FitNote, pattern: Pattern, view: str, size: str) -> list[OtherWay]:
    """Return what else a finding may come from on this pattern, the likelier first; what its pieces can not show is left out."""
    found = []
    for other in OTHERS.get((note.place, note.fault), ()):
        wanted = propose(replace(note, place=other.place, fault=other.fault), pattern, view, size, other.half)
        if not isinstance(wanted, Finding):
            found.append(OtherWay(replace(wanted, why=note.sentence()), other.told_by))
    return found
