"""Items bound to the print for one spread: the likeliest phases at a glance, and the matches that could not be kept."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from rowanseed.core.errors import Finding
from rowanseed.core.lay.demand import Item, Usable
from rowanseed.core.lay.model import Effort, LayPiece, LayRequest, Spread
from rowanseed.core.lay.nest import estimate_length, solve
from rowanseed.core.lay.print_alignment import Phases, matched_print, phases_of
from rowanseed.core.lay.print_poses import choices, phased
from rowanseed.core.lay.problem import NO_REPEAT, Repeat
from rowanseed.core.lay.squeeze import Watch
from rowanseed.core.lay.watch import LayWatch

CHOICES: dict[Effort, int] = {"quick": 8, "good": 24, "best": 60}  # phases that are looked at
LOOKED_INTO: dict[Effort, int] = {"quick": 1, "good": 5, "best": 8}  # of them, those that are worked out quickly


@dataclass(frozen=True)
class Matched:
    """The items bound to the print, its repeat, what could not be matched and why."""

    items: list[Item]
    repeat: Repeat
    findings: list[Finding]
    unmatched: tuple[int, ...]


def matched(request: LayRequest, spread: Spread, strip: Usable, items: list[Item], watch: LayWatch) -> Matched:
    """Bind items to the print on one spread; a match that leaves a piece no way to lie is let go, and said."""
    asked = len(request.matches) + len(request.centres)
    if matched_print(request) is None:
        reason = "the cloth has no print with a repeat"
        lost = dict.fromkeys(range(asked), reason)
        return Matched(items, NO_REPEAT, _findings(request, lost), tuple(lost))
    pieces = {p.id: p for p in request.pieces}
    left: dict[int, str] = {}
    while True:
        phases = phases_of(request, spread, strip.offset_mm, left)
        if phases.unmet:
            left.update(phases.unmet)
            continue
        stuck = _stuck(phased(items, phases, pieces, {}, strip.width_mm))
        more = _matches_of(request, stuck, set(left))
        if not more:
            break
        for number in more:
            left[number] = f"piece {stuck[0]} could then not lie in this spread"
    best = _likeliest(request, phases, items, pieces, strip, watch)
    return Matched(best, phases.repeat, _findings(request, left), tuple(sorted(left)))


def _stuck(items: Sequence[Item]) -> list[str]:
    """The pieces that have no pose left."""
    return list(dict.fromkeys(i.piece for i in items if not i.poses))


def _matches_of(request: LayRequest, stuck: Sequence[str], gone: set[int]) -> list[int]:
    """The last match that concerns a piece with no way to lie; the earlier ones may still be kept."""
    every = [(k, {m.a[0], m.b[0]}) for k, m in enumerate(request.matches)]
    every += [(len(request.matches) + k, {c.mark[0]}) for k, c in enumerate(request.centres)]
    own = [k for k, names in every if k not in gone and names & set(stuck)]
    return own[-1:]


def _likeliest(
    request: LayRequest,
    phases: Phases,
    items: list[Item],
    pieces: Mapping[str, LayPiece],
    strip: Usable,
    watch: LayWatch,
) -> list[Item]:
    """Of the phases that are free to choose, the best by a glance at all and a quick lay of the likeliest."""
    if not phases.bind:
        return items
    bound = [
        phased(items, phases, pieces, chosen, strip.width_mm)
        for chosen in choices(phases, items, pieces, CHOICES[request.effort])
    ]
    bound = [b for b in bound if all(i.poses for i in b)] or bound[:1]
    if len(bound) == 1 or not items:
        return bound[0]

    def at_a_glance(some: list[Item]) -> float:
        return estimate_length(some, strip.width_mm, request.gap_mm, request.seed, 0.0, phases.repeat)

    seen: list[tuple[float, int]] = []
    for number, some in enumerate(bound):
        if seen and watch.stop():
            break
        seen.append((at_a_glance(some), number))
    likely = [bound[number] for _, number in sorted(seen)[: LOOKED_INTO[request.effort]]]
    if len(likely) == 1 or watch.stop():
        return likely[0]

    def worked_out(some: list[Item]) -> float:
        lay_watch = Watch(stop=watch.stop)
        return solve(some, strip.width_mm, request.gap_mm, "quick", request.seed, 0.0, lay_watch, phases.repeat)[1]

    return min(likely, key=worked_out)


def _findings(request: LayRequest, left: Mapping[int, str]) -> list[Finding]:
    """What is not matched, and why."""
    out = []
    for number, why in sorted(left.items()):
        if number < len(request.matches):
            match = request.matches[number]
            what = f"Pieces {match.a[0]} and {match.b[0]} do not match"
        else:
            what = f"Piece {request.centres[number - len(request.matches)].mark[0]} is not centred on the print"
        out.append(Finding("care", "not-matched", f"{what}: {why}."))
    return out
