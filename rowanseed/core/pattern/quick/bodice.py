"""Quick shapes of the upper body: bodice halves, sleeve, yoke, collars."""

from rowanseed.core.geometry.shape import Line, Notch, PieceShape
from rowanseed.core.geometry.types import Point, Segment
from rowanseed.core.pattern.quick.build import Measure, Measures, QuickShape, Walk, need, side_of


def _bodice(m: Measures, extension: float, hollow: float) -> tuple[Walk, float]:
    """Half a bodice from the neck's side down: x = 0 at the neck point, centre at y = 0; the walk and its hem's x.

    `hollow`: how far the armhole is cut in behind the straight line from shoulder to underarm, as a share.
    """
    neck_w, neck_d, drop = m["neck_width"], m["neck_depth"], m["shoulder_drop"]
    run = side_of(m["shoulder"], drop, "shoulder")
    tip: Point = (drop, neck_w + run)
    under: Point = (m["armhole_depth"], m["chest_width"])
    foot = neck_d + m["centre_length"]
    need(under[0] > tip[0], "The armhole must be deeper than the shoulder drops.", "armhole_depth")
    need(foot > under[0], "The centre is too short to reach below the armhole.", "centre_length")
    walk = Walk((neck_d, -extension)).line("centre", (foot, -extension))
    walk.line("hem", (foot, m["hem_width"])).line("side", under)
    reach = under[0] - tip[0]
    inner = min(tip[1], under[1]) - hollow * reach
    walk.curve(
        "armhole",
        (under[0] - 0.05 * reach, under[1] - 0.62 * (under[1] - inner)),
        (tip[0] + 0.62 * reach, inner),
        tip,
    )
    walk.line("shoulder", (0, neck_w))
    walk.curve("neck", (neck_d * 0.55, neck_w), (neck_d, neck_w * 0.5), (neck_d, 0))
    if extension:
        walk.close("front top")
    else:
        walk.close("neck end")
    return walk, foot


def bodice_back(m: Measures) -> PieceShape:
    """Half a back on the fold."""
    walk, foot = _bodice(m, 0.0, 0.06)
    return walk.shape(fold=((m["neck_depth"], 0), (foot, 0)), levels={"bust": m["armhole_depth"]})


def bodice_front_fold(m: Measures) -> PieceShape:
    """Half a front on the fold."""
    walk, foot = _bodice(m, 0.0, 0.12)
    return walk.shape(fold=((m["neck_depth"], 0), (foot, 0)), levels={"bust": m["armhole_depth"]})


def bodice_front(m: Measures) -> PieceShape:
    """A front with a centre edge and the overlap beyond it."""
    walk, foot = _bodice(m, m["overlap"], 0.12)
    middle = m["chest_width"] / 2
    grain: Segment = ((m["armhole_depth"], middle), (0.9 * foot, middle))
    centre = Line("centre front", ((m["neck_depth"], 0), (foot, 0)))
    return walk.shape(grain=grain, lines=(centre,) if m["overlap"] else (), levels={"bust": m["armhole_depth"]})


def sleeve(m: Measures) -> PieceShape:
    """A set-in sleeve: cap, straight seams, straight hem."""
    width, cap, length, wrist = m["width"], m["cap_height"], m["length"], m["hem_width"]
    need(cap < length, "The cap cannot be higher than the sleeve is long.", "cap_height")
    middle = width / 2
    front: Point = (cap, width)
    walk = Walk((cap, 0.0))
    walk.curve("cap back", (0.78 * cap, 0.19 * width), (0.02 * cap, 0.2 * width), (0.0, middle))
    walk.curve("cap front", (0.0, 0.77 * width), (0.86 * cap, 0.79 * width), front)
    walk.line("front seam", (length, middle + wrist / 2)).line("hem", (length, middle - wrist / 2)).close("back seam")
    notch_back, notch_front = walk.points[6], walk.points[22]
    return walk.shape(
        grain=((0.3 * length, middle), (0.85 * length, middle)),
        notches=(Notch(notch_back, 2), Notch(notch_front, 1)),
        levels={"upper_arm": cap, "wrist": length},
    )


def yoke(m: Measures) -> PieceShape:
    """Half a back yoke on the fold."""
    neck_w, neck_d, drop, depth = m["neck_width"], m["neck_depth"], m["shoulder_drop"], m["centre_depth"]
    run = side_of(m["shoulder"], drop, "shoulder")
    foot = neck_d + depth
    need(foot > drop, "The yoke is too shallow to reach below the shoulder's end.", "centre_depth")
    walk = Walk((neck_d, 0)).line("fold", (foot, 0)).line("foot", (foot, m["foot_width"]))
    walk.line("armhole", (drop, neck_w + run)).line("shoulder", (0, neck_w))
    walk.curve("neck", (neck_d * 0.55, neck_w), (neck_d, neck_w * 0.5), (neck_d, 0)).close("neck end")
    return walk.shape(fold=((neck_d, 0), (foot, 0)))


def collar_fall(m: Measures) -> PieceShape:
    """Half the fall of a two-piece collar, centre back on the fold; the neck edge lies along the grain."""
    half, height, point = m["half_length"], m["centre_height"], m["point"]
    walk = Walk((0, 0)).line("fold", (height, 0))
    walk.line("outer edge", (point, half + 0.28 * point)).line("front edge", (0.04 * height, half))
    walk.curve("neck", (-0.06 * height, 0.7 * half), (0, 0.4 * half), (0, 0)).close("neck end")
    return walk.shape(fold=((0, 0), (height, 0)))


def collar_stand(m: Measures) -> PieceShape:
    """Half the stand of a two-piece collar, centre back on the fold, curving up to a rounded front."""
    half, height, front, rise = m["half_length"], m["centre_height"], m["front_height"], m["rise"]
    walk = Walk((0, 0)).line("fold", (height, 0))
    walk.curve("neck", (height - 0.12 * rise, 0.4 * half), (height - 0.6 * rise, 0.75 * half), (height - rise, half))
    walk.curve(
        "front end",
        (height - rise - 0.6 * front, half + 0.08 * front),
        (height - rise - front, half - 0.1 * front),
        (height - rise - front, half - 0.55 * front),
    )
    walk.curve("upper edge", (0.0, 0.7 * half), (0, 0.4 * half), (0, 0)).close("upper end")
    return walk.shape(fold=((0, 0), (height, 0)))


def collar_one_piece(m: Measures) -> PieceShape:
    """Half a one-piece collar, centre back on the fold, straight neck edge with a slight curve."""
    half, height, point = m["half_length"], m["centre_height"], m["point"]
    walk = Walk((0, 0)).line("fold", (height, 0))
    walk.curve("neck", (height, 0.5 * half), (height + 0.03 * height, 0.8 * half), (0.97 * height, half))
    walk.line("front edge", (0.97 * height - point * 0.96, half + 0.28 * point)).close("outer edge")
    return walk.shape(fold=((0, 0), (height, 0)))


_BODICE = (
    Measure("centre_length", "Down the centre, from neck to hem edge", "62 cm"),
    Measure("neck_width", "Centre to the shoulder's neck end", "8 cm"),
    Measure("neck_depth", "Centre neck below the shoulder's neck end", "2.5 cm"),
    Measure("shoulder", "Along the shoulder edge", "14 cm"),
    Measure("shoulder_drop", "How far the shoulder's outer end lies lower", "5 cm"),
    Measure("armhole_depth", "Underarm below the shoulder's neck end", "24 cm"),
    Measure("chest_width", "Centre to the underarm", "27 cm"),
    Measure("hem_width", "Centre to the side at the hem", "26 cm"),
)
_FRONT = (
    _BODICE[0],
    _BODICE[1],
    Measure("neck_depth", "Centre neck below the shoulder's neck end", "8 cm"),
    *_BODICE[3:],
)

SHAPES = (
    QuickShape(
        "bodice-back",
        "Back on the fold",
        "Half a back: the centre lies on the fold.",
        _BODICE,
        bodice_back,
        on_fold=True,
    ),
    QuickShape(
        "bodice-front-fold",
        "Front on the fold",
        "Half a front: the centre lies on the fold.",
        _FRONT,
        bodice_front_fold,
        on_fold=True,
    ),
    QuickShape(
        "bodice-front",
        "Front with a centre edge",
        "One front, with the overlap for buttons or a zip.",
        (*_FRONT, Measure("overlap", "Beyond the centre line", "3 cm", 0.0)),
        bodice_front,
    ),
    QuickShape(
        "sleeve",
        "Set-in sleeve",
        "Cap, straight seams, straight hem.",
        (
            Measure("length", "From the cap's top to the hem edge", "62 cm"),
            Measure("cap_height", "Cap's top above the underarm line", "14 cm"),
            Measure("width", "From underarm to underarm", "40 cm"),
            Measure("hem_width", "Width at the hem", "26 cm"),
        ),
        sleeve,
    ),
    QuickShape(
        "yoke",
        "Back yoke on the fold",
        "Half a yoke from neck to armhole.",
        (
            _BODICE[1],
            _BODICE[2],
            _BODICE[3],
            _BODICE[4],
            Measure("centre_depth", "Down the centre", "9 cm"),
            Measure("foot_width", "Centre to the armhole along the foot", "22 cm"),
        ),
        yoke,
        on_fold=True,
    ),
    QuickShape(
        "collar-fall",
        "Two-piece collar, the fall",
        "Half the part that folds over, on the fold.",
        (
            Measure("half_length", "Centre back to the front end of the neck edge", "20 cm"),
            Measure("centre_height", "Height at the centre back", "6 cm"),
            Measure("point", "How high the point lies above the neck edge", "8 cm"),
        ),
        collar_fall,
        on_fold=True,
    ),
    QuickShape(
        "collar-stand",
        "Two-piece collar, the stand",
        "Half the stand, on the fold.",
        (
            Measure("half_length", "Centre back to the front end", "23 cm"),
            Measure("centre_height", "Height at the centre back", "5 cm"),
            Measure("front_height", "Height at the front end", "4 cm"),
            Measure("rise", "How far the front end rises", "1.5 cm", 0.0),
        ),
        collar_stand,
        on_fold=True,
    ),
    QuickShape(
        "collar-one-piece",
        "One-piece collar",
        "Half a collar cut in one, on the fold.",
        (
            Measure("half_length", "Centre back to the front end of the neck edge", "20 cm"),
            Measure("centre_height", "Height at the centre back", "9 cm"),
            Measure("point", "Length of the front edge", "10 cm"),
        ),
        collar_one_piece,
        on_fold=True,
    ),
)
