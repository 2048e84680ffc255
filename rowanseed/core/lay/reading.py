"""Reading a lay at the table: distances to measure, which way up, and in what order to cut."""

from dataclasses import dataclass, replace

from rowanseed.core.lay.model import Lane, Lay, Placement

GRAIN_HEAD, GRAIN_FOOT = "grain-head", "grain-foot"


@dataclass(frozen=True)
class GrainReading:
    """The distance from each end of a grain arrow to the fold or the nearer selvage, in mm."""

    from_edge: str
    head_mm: float
    foot_mm: float


@dataclass(frozen=True)
class PieceReading:
    """What a cutter needs to place one piece: its distance from the cut end, its grain, how it lies."""

    number: int
    placement: Placement
    from_end_mm: float
    grain: GrainReading | None
    how: str


def read_lay(lay: Lay) -> list[PieceReading]:
    """Every placement in cutting order: big pieces first along the cloth, bias pieces last.

    Numbers count from 1. Source of the order: common practice, no published source.
    """
    in_turn = lay.spread == "fold-then-single"  # the folded part is cut before the rest is opened
    ordered = sorted(
        lay.placements, key=lambda p: (p.lane if in_turn else 0, _is_bias(p), round(_least_x(p) / 150), -_area(p))
    )
    return [
        PieceReading(n, p, _least_x(p), grain_reading(p, lay.lanes[p.lane]), how_it_lies(p, lay.lanes[p.lane]))
        for n, p in enumerate(ordered, start=1)
    ]


def grain_reading(placement: Placement, lane: Lane) -> GrainReading | None:
    """Distances of both ends of the grain arrow from the lane's nearer edge; None when it has no arrow or is on the fold.

    Both are the same when the piece lies on grain.
    """
    head, foot = placement.marks.get(GRAIN_HEAD), placement.marks.get(GRAIN_FOOT)
    if head is None or foot is None or placement.on_fold:
        return None
    width = lane.to_mm - lane.from_mm
    near_first = (head[1] + foot[1]) / 2 <= width / 2
    edge = lane.edges[0] if near_first else lane.edges[1]
    if lane.edges[0] == lane.edges[1]:
        name = f"{'near' if near_first else 'far'} {edge}"
    else:
        name = edge
    if near_first:
        return GrainReading(name, head[1], foot[1])
    return GrainReading(name, width - head[1], width - foot[1])


def how_it_lies(placement: Placement, lane: Lane) -> str:
    """In words: on the fold, through how many layers, which face up, turned or not."""
    words = []
    if placement.on_fold:
        words.append("on the fold")
    elif lane.layers == 2:
        words.append(
            "both layers"
            if placement.layers == 2
            else f"one layer only, the {'upper' if placement.face_down else 'lower'} one"
        )
    if not placement.on_fold:
        words.append("printed side down" if placement.face_down else "printed side up")
    turned = round(placement.turned) % 360
    if turned == 180:
        words.append("head to the far end")
    elif turned in (90, 270):
        words.append("on the crosswise grain")
    elif turned:
        words.append("on the bias")
    return ", ".join(words)


def table_y(lay: Lay, lane: int, y: float) -> float:
    """Where a distance from a lane's first edge lies across the table; of two folds the second faces the first."""
    spec = lay.lanes[lane]
    return spec.to_mm - y if lay.spread == "double-fold" and lane == 1 else spec.from_mm + y


def on_table(lay: Lay, placement: Placement) -> Placement:
    """A placement with its outline and marks where they lie on the table."""
    lane = placement.lane
    outline = tuple((x, table_y(lay, lane, y)) for x, y in placement.outline)
    marks = {name: (x, table_y(lay, lane, y)) for name, (x, y) in placement.marks.items()}
    return replace(placement, outline=outline, marks=marks)


def _is_bias(placement: Placement) -> bool:
    return round(placement.turned) % 90 != 0


def _least_x(placement: Placement) -> float:
    return min(x for x, _ in placement.outline)


def _area(placement: Placement) -> float:
    points = placement.outline
    return abs(sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(points, (*points[1:], points[0]), strict=True))) / 2
