"""Lining, facing and collar figures. Common practice, no published source."""

from rowanseed.core.errors import ReckonError

IN = 25.4


def lining_beside_facing(piece_mm: float, facing_mm: float, seam_mm: float) -> float:
    """The lining's width at an edge: piece as cut - facing as cut + two seam allowances, mm.

    >>> lining_beside_facing(300, 100, 15.875)   # 5/8 + 5/8 = 1 1/4 in
    231.75
    """
    if facing_mm >= piece_mm:
        raise ReckonError("The facing must be narrower than the piece.", "facing")
    return piece_mm - facing_mm + 2 * seam_mm


def ease_pleat(beyond_mm: float = IN) -> tuple[float, float, float]:
    """A back ease pleat: the whole of it, stitched so far from the neck, and from the hem, mm.

    >>> [round(v / 25.4, 6) for v in ease_pleat()]
    [2.0, 2.0, 3.0]
    """
    return 2 * beyond_mm, 2 * IN, 3 * IN


def lining_hem(finished_mm: float, free: bool) -> tuple[float, float]:
    """The lining's length, least and most, mm: free 1/2 to 3/4 in shorter than the garment; sewn in cut 1/2 in longer."""
    if finished_mm <= 4 * IN:
        raise ReckonError("A garment with a lining is longer than a hand: check its finished length.", "finished")
    return (
        (finished_mm - 0.75 * IN, finished_mm - 0.5 * IN) if free else (finished_mm + 0.5 * IN, finished_mm + 0.5 * IN)
    )


def pad_lowering(pad_mm: float, along_mm: float, shoulder_mm: float) -> float:
    """How far the lining's shoulder is lowered for a pad, so far along from the neck: nothing there, all of it at the point.

    >>> pad_lowering(12, 65, 130)
    6.0
    """
    if shoulder_mm <= 0:
        raise ReckonError("A shoulder is longer than nothing.", "shoulder")
    if not 0 <= along_mm <= shoulder_mm:
        raise ReckonError("The place lies on the shoulder, between neck and point.", "along")
    return pad_mm * along_mm / shoulder_mm


def neck_band(edge_mm: float, share: float, seam_mm: float) -> float:
    """A knit's neck band: cut shorter than the edge's seam line, and a seam at each end, mm.

    >>> neck_band(500, 0.85, 10)
    445.0
    """
    if not 0.6 <= share <= 1:
        raise ReckonError("A band is cut to between 60 and 100 % of its edge.", "share")
    return edge_mm * share + 2 * seam_mm
