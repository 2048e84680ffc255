"""Sketches of work whose shape does not hang on a figure: layers seen from their end, hand stitches, corners."""

from rowanseed.formats.bench_svg import INK, LEAF, PAPER, ROWAN, SLATE
from rowanseed.formats.drawing import Drawn, tag


def _line(d: str, colour: str = INK, width: int = 4, dashes: str = "") -> Drawn:
    more = {"stroke_dasharray": dashes} if dashes else {}
    return tag("path", d=d, fill="none", stroke=colour, stroke_width=str(width), stroke_linejoin="round", **more)


def facing_turned() -> Drawn:
    """A facing from its end: sewn to the edge, turned in, the seam rolled a little inside, the allowances caught below it."""
    return [
        _line("M20 96H196C212 96 212 74 198 74H60"),
        _line("M196 90H150M196 84H160", SLATE, 3),
        _line("M176 66V100", ROWAN, 3, "4 3"),
        _line("M206 62V110", LEAF, 2, "2 4"),
    ]


def waistband_closed() -> Drawn:
    """A waistband from its end: on the garment, folded over, its inner edge turned under and caught in the ditch."""
    return [
        _line("M130 140V70"),
        _line("M126 78H112V30C112 14 152 14 152 30V86H138V70", SLATE),
        _line("M104 74H160", ROWAN, 3, "4 3"),
        _line("M112 46H152", LEAF, 2, "2 4"),
    ]


def layers_bagged() -> Drawn:
    """Shell and lining right sides together, sewn round, a gap left to turn them through."""
    return [
        tag("path", d="M50 24H250V126H50Z", fill=PAPER, stroke=INK, stroke_width="3"),
        tag("path", d="M58 32H258V134H58Z", fill="none", stroke=SLATE, stroke_width="3"),
        _line("M120 116H66V40H242V116H178", ROWAN, 3, "6 4"),
        _line("M124 110V122M174 110V122", LEAF, 3),
    ]


def hand_felled() -> Drawn:
    """A folded edge felled by hand: small slanting stitches, a thread or two of the cloth below."""
    stitches = "".join(f"M{x} 86l10 -14" for x in range(40, 260, 26))
    return [
        tag("path", d="M20 30H280V84H20Z", fill=PAPER, stroke=SLATE, stroke_width="3"),
        _line("M20 84H280"),
        _line("M20 124H280", INK, 2),
        _line(stitches, ROWAN, 3),
    ]


def caught_hem() -> Drawn:
    """A hem from its end, folded once, its edge caught to the cloth by hand behind the fold."""
    return [
        _line("M150 14V118C150 132 172 132 172 118V50"),
        _line("M172 56L152 66L172 74L152 84", ROWAN, 3),
    ]


def buttonhole() -> Drawn:
    """A buttonhole between its bars, the middle not yet cut, across the line that the button pulls from."""
    teeth = "".join(f"M{x} 56v14M{x} 80v14" for x in range(92, 214, 5))
    return [
        tag("path", d="M40 20H270V130H40Z", fill=PAPER, stroke=INK, stroke_width="2"),
        _line(teeth, ROWAN, 2),
        _line("M88 54V96M216 54V96", ROWAN, 4),
        _line("M92 75H212", SLATE, 2, "3 4"),
        _line("M60 20V130", LEAF, 2, "2 4"),
    ]


def mitre() -> Drawn:
    """A corner whose two folds are sewn on the slant: from the fold's corner to where both raw edges cross."""
    return [
        tag("path", d="M40 20H250V126H40Z", fill=PAPER, stroke=INK, stroke_width="3"),
        _line("M210 20V126M40 92H250", SLATE, 2, "5 4"),
        _line("M170 126L250 58", ROWAN, 3, "6 4"),
        _line("M210 92l-10 10", LEAF, 4),
    ]


def tube_and_loops() -> Drawn:
    """A strip folded to its middle and stitched along both edges; cut into lengths for loops."""
    return [
        tag("path", d="M24 54H276V98H24Z", fill=PAPER, stroke=INK, stroke_width="3"),
        _line("M24 62H276M24 90H276", ROWAN, 2, "6 4"),
        _line("M24 76H276", SLATE, 2, "2 4"),
        _line("M108 46V106M192 46V106", LEAF, 3),
    ]


def knit_band() -> Drawn:
    """A band shorter than its edge, both quartered; it is stretched between the quarters while it is sewn."""
    return [
        _line("M30 108C100 84 200 84 270 108", INK, 4),
        _line("M64 44H236V66H64Z", SLATE, 3),
        _line("M64 66L30 106M121 66L109 92M179 66L191 92M236 66L270 106", LEAF, 2, "3 4"),
        _line("M70 60H230", ROWAN, 2, "6 4"),
    ]


def raw_edges() -> Drawn:
    """A raw edge under a zigzag: the needle falls just off it on one side."""
    teeth = "M24 88" + "".join(f"L{x} {62 if k % 2 else 90}" for k, x in enumerate(range(24, 280, 12)))
    return [
        tag("path", d="M20 20H280V88H20Z", fill=PAPER, stroke=INK, stroke_width="2"),
        _line(teeth, ROWAN, 2),
    ]
