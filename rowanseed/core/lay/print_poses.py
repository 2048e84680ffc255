"""Poses bound to the phases that matches leave them: where a pose may stand so that its print meets its neighbours'."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace

from rowanseed.core.lay.demand import TURNS_ONE_WAY, Item, Pose, on_fold_axis
from rowanseed.core.lay.model import LayPiece
from rowanseed.core.lay.print_alignment import AGREE_MM, Body, Frame, Phases, gap_between


def phased(
    items: Sequence[Item], phases: Phases, pieces: Mapping[str, LayPiece], chosen: Mapping[str, float], width_mm: float
) -> list[Item]:
    """The items with their poses bound to phases; poses that cannot stand at theirs are left out, so that none may be left.

    Args:
        chosen: the phase of every free root, by its name (`x:` or `y:` and the piece).
    """
    out = []
    for item in items:
        piece = pieces.get(item.piece)
        if piece is None or item.x_mm is not None:
            out.append(item)
            continue
        poses = []
        for pose in item.poses:
            bound = _bound(pose, item, piece, phases, chosen)
            if bound is not None and (bound.y_phase is None or _has_row(bound, item, phases, width_mm)):
                poses.append(bound)
        out.append(replace(item, poses=tuple(poses)))
    return out


def _has_row(pose: Pose, item: Item, phases: Phases, width_mm: float) -> bool:
    assert pose.y_phase is not None
    if item.at_fold or pose.y_mm is not None:
        return True
    return pose.y_phase % phases.repeat.across_mm + pose.height_mm <= width_mm + 1e-6


def _bound(pose: Pose, item: Item, piece: LayPiece, phases: Phases, chosen: Mapping[str, float]) -> Pose | None:
    """A pose at the phase its piece must keep; None where its marks ask for two phases at once."""
    x = y = None
    if phases.along is not None and (item.piece, 0) in phases.along.at:
        root, distance = phases.along.at[(item.piece, 0)]
        base = phases.along.fixed.get(root, chosen.get(name_of("x", root), 0.0)) + distance
        where = [base + piece.marks[m][0] - pose.marks[m][0] for m in sorted(phases.along.told[piece.id])]
        x = _agreed(where, phases.along)
        if x is None:
            return None
    if not _may_turn(pose, item, piece, phases, chosen):
        return None
    body = (item.piece, 1 if phases.hands and pose.face_down and piece.fold_edge is None else 0)
    if phases.across is not None and body in phases.across.at:
        root, distance = phases.across.at[body]
        base = phases.across.fixed.get(root, chosen.get(name_of("y", root), 0.0)) + distance
        flip = -1.0 if body[1] else 1.0
        heights = {m: p[1] for m, p in (on_fold_axis(piece)[1] if piece.fold_edge else piece.marks).items()}
        where = [base + flip * heights[m] - pose.marks[m][1] for m in sorted(phases.across.told[piece.id])]
        if phases.hands and piece.fold_edge is not None:  # opened out, it has every mark on its other side too
            twice = min(q[1] for q in pose.outline) + max(q[1] for q in pose.outline)
            where += [base - heights[m] - (twice - pose.marks[m][1]) for m in sorted(phases.across.told[piece.id])]
        y = _agreed(where, phases.across)
        if y is None:
            return None
    return replace(pose, x_phase=x, y_phase=y)


def _may_turn(pose: Pose, item: Item, piece: LayPiece, phases: Phases, chosen: Mapping[str, float]) -> bool:
    """Whether a matched piece may lie head to tail: only where its marks lie on an axis of the print, alike from both ways."""
    tied = [f for f in (phases.along, phases.across) if f is not None and any(b[0] == item.piece for b in f.at)]
    if not tied or pose.turned in TURNS_ONE_WAY[piece.grain]:
        return True
    if phases.across in tied or phases.along is None:
        return False
    root = phases.along.at[(item.piece, 0)][0]
    return chosen.get(f"turn:{name_of('x', root)}", 0.0) > 0


def _on_axis(frame: Frame, root: Body, pieces: Mapping[str, LayPiece], axis_mm: float) -> list[float]:
    """The phases of a root at which every mark of its pieces lies on an axis along the cloth; none where they cannot."""
    marks = [
        distance + pieces[body[0]].marks[m][0]
        for body, (r, distance) in frame.at.items()
        if r == root
        for m in frame.told.get(body[0], ())
    ]
    half = frame.period / 2
    if not marks or any(abs(gap_between(marks[0], m, half)) > AGREE_MM for m in marks):
        return []
    return [(axis_mm - marks[0]) % frame.period, (axis_mm + half - marks[0]) % frame.period]


def _agreed(where: Iterable[float], frame: Frame) -> float | None:
    """The one phase that several marks ask for; None where they differ."""
    first, *others = where
    gaps = [0.0, *(gap_between(first, o, frame.period) for o in others)]
    if max(gaps) - min(gaps) > AGREE_MM:
        return None
    return first + (max(gaps) + min(gaps)) / 2


def name_of(axis: str, root: Body) -> str:
    """How a free phase is called."""
    return f"{axis}:{root[0]}:{root[1]}"


def choices(phases: Phases, items: Sequence[Item], pieces: Mapping[str, LayPiece], most: int) -> list[dict[str, float]]:
    """Likely phases for the free roots: those at which some piece comes to lie at the cut end, or against an edge of the strip."""
    options: dict[str, list[dict[str, float]]] = {}
    for axis, frame in (("x", phases.along), ("y", phases.across)):
        if frame is None:
            continue
        for root in frame.free():
            found = [0.0]
            for item in items:
                for body, (r, _) in frame.at.items():
                    if r == root and body[0] == item.piece and item.poses:
                        bound = _bound(item.poses[0], item, pieces[item.piece], phases, {})
                        if bound is None:
                            continue
                        phase = bound.x_phase if axis == "x" else bound.y_phase
                        if phase is not None:
                            found.append(-phase % frame.period)
            name = name_of(axis, root)
            options[name] = [{name: v} for v in sorted({round(v, 3) for v in found})]
            if axis == "x" and phases.even:
                turning = _on_axis(frame, root, pieces, phases.axis_mm)
                options[name] += [{name: v, f"turn:{name}": 1.0} for v in turning]
    if not options:
        return [{}]
    count = max(len(v) for v in options.values())
    total = min(most, max(count, 1) * (1 if len(options) == 1 else 3))
    return [
        dict(
            pair
            for n, (_, own) in enumerate(sorted(options.items()))
            for pair in own[(-1 - k * (1 + n)) % len(own)].items()
        )
        for k in range(total)
    ]
