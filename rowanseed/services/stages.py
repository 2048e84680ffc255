"""The six stages of a make: the state of each and its one next action."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

from rowanseed.services.worked_role import WorkedRole

if TYPE_CHECKING:  # a make asks for its stages, and they look at the make
    from rowanseed.services.worked_make import WorkedMake

STAGES = ("Fit", "Cloth", "Lay", "Cut", "Sew", "Wear")


@dataclass(frozen=True)
class Stage:
    """A stage of a make: its state, in a word and as a colour's name, and its next action."""

    name: str
    state: str
    word: str
    action: str


def stages_of(make: "WorkedMake") -> list[Stage]:
    """Return the six stages of a make with their states and next actions."""
    return [_fit(make), _cloth(make), _lay(make), _cut(make), _sew(make), _wear(make)]


def lay_is_open(roles: Sequence[WorkedRole]) -> bool:
    """Return whether a lay is missing, out of date, or does not fit its cloth."""
    return not roles or any(
        not r.current or r.kept is None or r.kept.lay.short_mm > 0 or bool(r.kept.lay.failed) for r in roles
    )


def _fit(make: "WorkedMake") -> Stage:
    open_ = sum(1 for g in make.make.garments if not g.size)
    if open_:
        return Stage("Fit", "open", "size open", "Choose the size")
    if not make.roles:
        return Stage("Fit", "care", "size " + ", ".join(make.sizes) + "; no pieces yet", "Bring in the pieces")
    return Stage("Fit", "done", "size " + ", ".join(make.sizes), "Look at the ease")


def _cloth(make: "WorkedMake") -> Stage:
    if not make.roles:
        return Stage("Cloth", "later", "after the pieces", "Choose the cloth")
    missing = [r.role for r in make.roles if r.cloth is None]
    if missing:
        return Stage("Cloth", "open", f"{missing[0]} cloth open", "Choose the cloth")
    return Stage("Cloth", "done", "chosen", "Look at the cloth")


def _lay(make: "WorkedMake") -> Stage:
    if not make.roles or any(r.request is None for r in make.roles):
        return Stage("Lay", "later", "after fit and cloth", "Lay the pieces")
    if any(not r.current for r in make.roles):
        stale = any(r.kept is not None and not r.current for r in make.roles)
        return Stage("Lay", "open", "out of date" if stale else "not laid", "Lay the pieces")
    if any(r.kept and (r.kept.lay.short_mm or r.kept.lay.failed) for r in make.roles):
        return Stage("Lay", "care", "cloth too short", "Look at the lay")
    return Stage("Lay", "done", "laid", "Look at the lay")


def _cut(make: "WorkedMake") -> Stage:
    changed = sum(1 for piece in make.cut_otherwise if piece.to_do)
    if changed:
        return Stage("Cut", "care", f"{changed} changed since cut", "Put right what changed")
    if make.stages_before_cut_open:
        return Stage("Cut", "later", "after the lay", "Cut the pieces")
    if make.to_prove:
        return Stage("Cut", "care", "to be proved first", "Prove the fit")
    total, done = len(make.card_keys), len(make.card_keys & make.cut)
    if done < total:
        return Stage("Cut", "open", f"{done} of {total} cut", "Cut the next piece")
    return Stage("Cut", "done", "all cut", "Look at the cards")


def _sew(make: "WorkedMake") -> Stage:
    total = len(make.order_ids)  # the steps themselves have their numbers worked out, which only their own page shows
    done = sum(1 for step in make.order_ids if step in make.over)
    if done == total:
        return Stage("Sew", "done", "all sewn", "Look at the steps")
    state = "open" if done or not make.stages_before_cut_open else "later"
    return Stage("Sew", state, f"{done} of {total} steps", "Sew the next step")


def _wear(make: "WorkedMake") -> Stage:
    if make.make.finished_on:
        return Stage("Wear", "done", f"worn since {make.make.finished_on:%d %b %Y}", "Read the notes")
    return Stage("Wear", "later", "not yet", "Write what you learned")
