"""A lay with what the user must know: how to spread the cloth, what falls short, and the checker's verdict."""

from dataclasses import replace

from rowanseed.core.errors import Finding
from rowanseed.core.lay.check import check_lay
from rowanseed.core.lay.model import Lay, LayRequest
from rowanseed.core.lay.print_alignment import fold_axis, matched_across
from rowanseed.core.lengths import both


def with_findings(lay: Lay, request: LayRequest) -> Lay:
    """A lay with what the user must know: short cloth, rules not honoured, and the checker's verdict."""
    findings = list(lay.findings)
    short = 0.0
    if request.cloth.length_mm is not None and lay.length_mm > request.cloth.length_mm + 1e-6:
        short = lay.length_mm - request.cloth.length_mm
        findings.append(
            Finding(
                "stop",
                "cloth-too-short",
                f"This lay takes {both(lay.length_mm)}; the cloth is {both(request.cloth.length_mm)} "
                f"long: {both(short)} too short.",
            )
        )
    findings += _on_a_bar(lay, request)
    if lay.spread not in ("single", "lengthwise-fold"):
        findings.append(Finding("note", "how-to-spread", how_to_spread(lay, request.cloth.one_way)))
    if any(p.layers == 1 and lay.lanes[p.lane].layers == 2 for p in lay.placements):
        findings.append(
            Finding(
                "note",
                "one-layer-only",
                "Pieces marked “one layer” are cut through one layer of the "
                "fold only: face up from the lower layer, face down from the upper.",
            )
        )
    wrong = check_lay(request, replace(lay, short_mm=short))
    if wrong:
        return replace(
            lay,
            placements=(),
            failed=tuple(sorted({p.id for p in request.pieces})),
            findings=(
                *findings,
                Finding("stop", "lay-refused", "The lay did not pass the check and is not shown: " + wrong[0].text),
            ),
        )
    return replace(lay, findings=tuple(findings), short_mm=short)


def how_to_spread(lay: Lay, one_way: bool) -> str:
    """How the cloth is spread for a lay, and where to fold."""
    first = lay.lanes[0]
    if lay.spread == "single":
        return "One layer, right side up, the selvages straight along the table."
    if lay.spread == "lengthwise-fold":
        return (
            f"Fold lengthwise, right sides together, selvage on selvage: {both(first.to_mm - first.from_mm)} from fold to edge, "
            "without drag lines."
        )
    if lay.spread == "part-fold":
        return (
            f"Fold one edge in by {both(first.to_mm - first.from_mm)}, right sides together, so that its selvage lies on the "
            "cloth at an even distance all along; the rest stays single, right side up."
        )
    if lay.spread == "double-fold":
        second = lay.lanes[1]
        return (
            f"Fold one edge in by {both(first.to_mm - first.from_mm)} and the other by {both(second.to_mm - second.from_mm)}, "
            "right sides together: the selvages meet between the two folds."
        )
    if lay.spread == "fold-then-single":
        return (
            f"Folded lengthwise as far as {both(first.end_mm)}; cut that part off, open what remains, and lay the rest in a "
            "single layer, right side up."
        )
    if one_way:
        return (
            f"Cut the cloth across at {both(lay.length_mm / 2)} and turn the upper layer round, so that pile or print runs the "
            "same way in both; right sides together. Folded as it is, one layer would run upside down."
        )
    return f"Fold the cloth across at {both(lay.length_mm / 2)}, right sides together, the selvages on each other."


def _on_a_bar(lay: Lay, request: LayRequest) -> list[Finding]:
    """How a printed cloth is folded and pinned so that both layers carry the same bar."""
    print_ = request.cloth.print
    if lay.spread == "single" or print_ is None or not (request.matches or request.centres):
        return []
    text = "Pin the two layers together on the bars of the print before anything is cut, every few hand's breadths."
    if matched_across(request):
        fold = fold_axis(print_, request.cloth.width_mm)
        text = (
            f"Fold on the middle of a bar, {both(fold)} from the edge, so that both layers carry the same bar. {text}"
        )
    return [Finding("care", "fold-on-a-bar", text)]
