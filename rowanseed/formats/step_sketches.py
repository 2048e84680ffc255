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


def leg_in_leg() -> Drawn:
    """One leg turned right side out inside the other: the crotch seam runs round from waist to waist."""
    return [
        _line("M70 24H230L250 138H168L150 84L132 138H50Z"),
        _line("M92 24L100 62C112 96 188 96 200 62L208 24", SLATE, 3),
        _line("M96 24L106 60C118 90 182 90 194 60L204 24", ROWAN, 3, "6 4"),
        _line("M150 78V92", LEAF, 4),
    ]


def button_on_shank() -> Drawn:
    """A button from its side: as far from the cloth as the buttonhole's layers are thick, the thread wound round."""
    wound = "".join(f"M140 {y}H160" for y in range(72, 98, 5))
    return [
        _line("M30 104H270", INK, 5),
        tag("path", d="M96 42H204V58H96Z", fill=PAPER, stroke=INK, stroke_width="3"),
        _line("M144 58V104M156 58V104M144 36V44M156 36V44M144 36H156", ROWAN, 3),
        _line(wound, ROWAN, 3),
        _line("M222 58V104M216 64L222 58L228 64M216 98L222 104L228 98", LEAF, 2),
    ]


def hook_and_eye() -> Drawn:
    """A hook a little behind its edge, the eye so that the edges meet when it is closed."""
    return [
        _line("M20 40H146V116H20M280 40H154V116H280", INK, 3),
        _line("M84 70C96 58 108 70 96 78C84 86 84 70 84 70M96 74H138C148 74 148 86 138 86H128", SLATE, 4),
        _line("M216 68C204 58 196 70 206 76H176C164 76 164 86 176 86H206C196 92 204 102 216 92", SLATE, 4),
        _line("M80 64l8 8M88 64l-8 8M212 64l8 8M220 64l-8 8", ROWAN, 3),
    ]


def pad_at_the_shoulder() -> Drawn:
    """A shoulder pad from above: its straight edge with the armhole's allowance, its middle at the shoulder seam."""
    return [
        _line("M40 60H190"),
        _line("M190 20C168 56 168 84 190 130", INK, 4),
        tag(
            "path",
            d="M196 26V126C146 120 116 98 116 76C116 54 146 32 196 26Z",
            fill=PAPER,
            stroke=SLATE,
            stroke_width="3",
        ),
        _line("M118 76H186M188 40V112", ROWAN, 3, "4 4"),
    ]


def less_in_the_hem() -> Drawn:
    """A seam that runs into a hem: below the fold its allowances are cut to half, so that the fold stays flat."""
    return [
        _line("M150 16V134", INK, 3),
        _line("M118 16V78H134V134M182 16V78H166V134", SLATE, 3),
        _line("M30 78H270", ROWAN, 2, "6 4"),
        _line("M112 72l14 12M188 72l-14 12", LEAF, 3),
    ]


def cartridge_rows() -> Drawn:
    """Two rows of even stitches, those of the second exactly below those of the first; drawn up, the folds stand out."""
    rows = "".join(f"M{x} 56h10M{x} 92h10" for x in range(30, 270, 20))
    return [
        tag("path", d="M20 30H280V130H20Z", fill=PAPER, stroke=INK, stroke_width="2"),
        _line("M20 36H280M20 42H280", SLATE, 1),
        _line(rows, ROWAN, 4),
        _line("M40 50V98M100 50V98M160 50V98M220 50V98", LEAF, 1, "2 4"),
    ]


def turned_twice() -> Drawn:
    """An edge from its end, folded in twice and caught."""
    return [
        _line("M40 130V40C40 22 70 22 70 40V84C70 94 54 94 54 84V48", INK, 4),
        _line("M34 70H78", ROWAN, 3, "4 3"),
        _line("M110 40H270M110 84H270", LEAF, 2, "6 4"),
    ]


def layers_joined() -> Drawn:
    """Two layers right sides together, their edges level, the seam along them, both ends secured."""
    return [
        tag("path", d="M30 30H264V120H30Z", fill=PAPER, stroke=INK, stroke_width="3"),
        _line("M36 38H270V126", SLATE, 3),
        _line("M30 52H264", ROWAN, 3, "6 4"),
        _line("M30 52h14M250 52h14", ROWAN, 5),
        _line("M90 30v10M200 30v10", LEAF, 3),
    ]


def elastic_in_casing() -> Drawn:
    """A casing seen flat: its fold above, its row below with a gap, the elastic drawn in with a pin at its end."""
    return [
        tag("path", d="M24 36H276V132H24Z", fill=PAPER, stroke=INK, stroke_width="3"),
        _line("M24 84H118M178 84H276", ROWAN, 3, "6 4"),
        _line("M118 78V90M178 78V90", ROWAN, 3),
        _line("M148 146V76C148 64 154 60 164 60H226", LEAF, 10),
        _line("M226 53h22a7 7 0 0 1 0 14h-22", SLATE, 3),
    ]


def hood() -> Drawn:
    """A hood from its side: the middle seam over back and top, the face edge in front, the neck below."""
    return [
        tag("path", d="M78 130C56 84 74 22 150 20H222L236 130Z", fill=PAPER, stroke=INK, stroke_width="3"),
        _line("M86 122C68 82 84 32 152 30H220", ROWAN, 3, "6 4"),
        _line("M222 20L236 130", SLATE, 4),
        _line("M78 130H236", LEAF, 4),
    ]


def narrow_hem() -> Drawn:
    """A narrow hem in three stages from its end: a row at the fold, what stands out trimmed, turned again and sewn."""
    return [
        _line("M40 20V104C40 118 56 118 56 104V56"),
        _line("M34 100H64", ROWAN, 3, "4 3"),
        _line("M130 20V104C130 118 146 118 146 104V92"),
        _line("M124 100H154", ROWAN, 3, "4 3"),
        _line("M152 88L170 76M152 78L170 92", SLATE, 2),
        _line("M220 20V112C220 128 240 128 240 112V84C240 76 230 76 230 84V104"),
        _line("M214 94H246", ROWAN, 3, "4 3"),
    ]


def piping() -> Drawn:
    """Piping from its end: the cord in its strip, on one layer's seam line, the other layer over it, a row close to the cord."""
    return [
        _line("M20 96H200"),
        _line("M20 66H200", SLATE),
        _line("M120 86H176A14 14 0 1 0 176 72H120", LEAF, 3),
        tag("circle", cx="188", cy="79", r="8", fill=PAPER, stroke=INK, stroke_width="3"),
        _line("M168 54V108", ROWAN, 3, "4 3"),
    ]


def slant_bag() -> Drawn:
    """A slanting pocket from inside: the bag's two layers closed below, basted at waist and side."""
    return [
        tag("path", d="M40 16H260V136H40Z", fill=PAPER, stroke=INK, stroke_width="2"),
        _line("M150 16L240 84V136", INK, 2),
        _line("M110 16V96C110 122 132 128 160 128H240", SLATE, 3),
        _line("M118 22V94C118 114 136 120 160 120H234", ROWAN, 3, "6 4"),
        _line("M112 24H236M234 30V128", LEAF, 2, "3 5"),
    ]


def window() -> Drawn:
    """An opening faced before it is cut: a box of stitches round the line, cut down the middle and into both corners."""
    return [
        tag("path", d="M70 12H230V138H70Z", fill=PAPER, stroke=INK, stroke_width="2"),
        _line("M132 12V108H168V12", ROWAN, 3, "6 4"),
        _line("M150 12V88M150 88L136 106M150 88L164 106", SLATE, 2),
    ]


def slit_faced() -> Drawn:
    """A slit before it is cut: two rows that narrow to its point, two stitches across it, the cut between them."""
    return [
        tag("path", d="M30 16H270V134H30Z", fill=PAPER, stroke=INK, stroke_width="2"),
        tag("path", d="M100 16H200V124H100Z", fill="none", stroke=SLATE, stroke_width="3"),
        _line("M140 16L147 104H153L160 16", ROWAN, 3, "6 4"),
        _line("M150 16V98", LEAF, 2, "3 4"),
    ]


def gusset_in_slash() -> Drawn:
    """A gusset's corner in the slash: a square behind its point, the seam running to nothing there and out again."""
    return [
        tag("path", d="M20 16H280V134H20Z", fill=PAPER, stroke=INK, stroke_width="2"),
        tag("path", d="M132 20H168V56H132Z", fill="none", stroke=SLATE, stroke_width="3"),
        _line("M150 40L104 134M150 40L196 134", INK, 3),
        _line("M92 134L146 38H154L208 134", ROWAN, 3, "6 4"),
        _line("M144 38h12", LEAF, 4),
    ]


def elastic_at_the_edge() -> Drawn:
    """Elastic on the wrong side of an edge, stretched between its quarters; then both are turned in once and stitched again."""
    teeth = "M30 40" + "".join(f"L{x} {32 if k % 2 else 46}" for k, x in enumerate(range(40, 280, 10)))
    return [
        tag("path", d="M20 26H280V70H20Z", fill=PAPER, stroke=INK, stroke_width="2"),
        _line("M20 30H280M20 48H280", SLATE, 3),
        _line(teeth, ROWAN, 2),
        _line("M84 20V56M150 20V56M216 20V56", LEAF, 3),
        _line("M60 134V98C60 86 84 86 84 98V118", INK),
        _line("M72 96V116", SLATE, 6),
        _line("M52 110H92", ROWAN, 3, "4 3"),
    ]


def thread_chain() -> Drawn:
    """A chain of thread between two edges: each loop is drawn through the one before it."""
    loops = "".join(f"M{x} 75c8 -14 22 -14 26 0c-4 14 -18 14 -26 0" for x in range(88, 200, 20))
    return [
        _line("M20 20H84V130H20M280 20H216V130H280", INK, 3),
        _line(loops, ROWAN, 2),
        _line("M76 75H88M212 75H224", ROWAN, 3),
    ]


def bone_in_channel() -> Drawn:
    """A bone in its channel beside the seam: capped, and shorter than the channel by a stitch at both ends."""
    return [
        tag("path", d="M40 10H260V140H40Z", fill=PAPER, stroke=INK, stroke_width="2"),
        _line("M150 10V140", INK, 2),
        _line("M134 10V140M166 10V140", ROWAN, 2, "6 4"),
        tag(
            "path",
            d="M142 28C142 22 158 22 158 28V122C158 128 142 128 142 122Z",
            fill="none",
            stroke=SLATE,
            stroke_width="3",
        ),
        _line("M40 22H260M40 128H260", LEAF, 2, "3 4"),
    ]


def rolled_armhole() -> Drawn:
    """An armhole from its end: the rest of the garment rolled up between shell and facing, whose edges are sewn round the roll."""
    return [
        _line("M48 76C48 30 110 26 150 30C200 34 232 56 262 70"),
        _line("M48 76C48 122 110 126 150 122C200 118 232 92 262 78", SLATE),
        _line("M48 76H96", INK, 3),
        _line("M96 76C96 56 140 54 140 78C140 100 108 98 108 80C108 66 128 66 128 78C128 86 118 86 118 80", INK, 3),
        _line("M238 46V100", ROWAN, 3, "4 3"),
    ]


def vent_top() -> Drawn:
    """A vent from inside: the centre seam above, the folded layers below, a slanting row through them from the seam's end."""
    return [
        tag("path", d="M30 12H270V138H30Z", fill=PAPER, stroke=INK, stroke_width="2"),
        _line("M150 12V56", ROWAN, 3, "6 4"),
        _line("M150 56V138", INK, 3),
        _line("M150 56L214 40V138M150 56", SLATE, 3),
        _line("M152 60L210 46", ROWAN, 3, "6 4"),
    ]


def continuous_lap() -> Drawn:
    """A slit opened to a straight line, a strip along it: at the slit's point the seam takes in a thread or two."""
    return [
        tag(
            "path",
            d="M20 14H280V104C210 102 168 88 150 82C132 88 90 102 20 104Z",
            fill=PAPER,
            stroke=INK,
            stroke_width="3",
        ),
        tag("path", d="M20 44H280V104H20Z", fill="none", stroke=SLATE, stroke_width="3"),
        _line("M20 80H280", ROWAN, 3, "6 4"),
        _line("M150 70V116", LEAF, 3),
    ]


def tie_slit() -> Drawn:
    """A slit that a seam leaves open: a row round it, a bar across each end, the tie through it."""
    return [
        tag("path", d="M30 12H270V138H30Z", fill=PAPER, stroke=INK, stroke_width="2"),
        _line("M150 12V48M150 102V138", INK, 3),
        _line("M138 42H162V108H138Z", ROWAN, 2, "5 4"),
        _line("M136 48H164M136 102H164", ROWAN, 4),
        tag("path", d="M52 64H146V86H52ZM154 64H248V86H154Z", fill="none", stroke=SLATE, stroke_width="3"),
    ]


def crotch_flat() -> Drawn:
    """Two fronts, or two backs, right sides together: the curve between them is sewn while both lie flat."""
    return [
        tag("path", d="M82 8H198V56C198 76 212 86 238 90L230 132H92Z", fill="none", stroke=INK, stroke_width="2"),
        tag("path", d="M70 14H186V62C186 82 200 92 226 96L218 138H80Z", fill=PAPER, stroke=INK, stroke_width="3"),
        _line("M178 14V64C178 88 194 100 223 104", ROWAN, 3, "6 4"),
        _line("M186 38H196M206 88L212 80", SLATE, 3),
    ]
