"""Usual garments and their usual pieces, drawn from a body and an ease: what a garment takes while its own pieces are not in.

Proportions by height and girth are those of plain block drafting: common practice, from memory, no source. A pattern's own pieces,
and the lengths that its envelope prints, always stand before them.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

from rowanseed.core.garment_kinds import Cut, GarmentKind, Zone
from rowanseed.core.geometry.shape import PieceShape
from rowanseed.core.pattern.model import Pattern, Piece, Role
from rowanseed.core.pattern.quick import QUICK_SHAPES

SIZE = "usual"
ALLOWANCE_MM = 15.0
HEM_MM, COAT_HEM_MM = 30.0, 45.0
HEIGHT_MM: Mapping[str, float] = {"women": 1680.0, "men": 1780.0}


@dataclass(frozen=True)
class Figure:
    """A body with the ease that the garment leaves, mm: girths as finished at each zone, height."""

    bust: float
    waist: float
    hip: float
    height: float

    @property
    def armhole(self) -> float:
        """How deep the armhole lies below the neck's side."""
        return self.bust / 10.0 + 130.0

    @property
    def shoulder(self) -> float:
        """Along the shoulder."""
        return self.bust / 20.0 + 75.0

    @property
    def neck(self) -> float:
        """Half the neck's width."""
        return self.bust / 50.0 + 58.0


Draw = Callable[[Figure], list[Piece]]


@dataclass(frozen=True)
class UsualGarment:
    """A garment as it is usually cut: its kind and hang, the girths that decide its size, what it is described by, its pieces.

    `long_by`: what the finished length is told from, with the share of the body's height that it is. `buttons`: how many it usually
    has and how wide they are, mm, where that is no matter of even spacing down the whole front.
    """

    key: str
    words: str
    garment: GarmentKind
    measures: tuple[Zone, ...]
    features: Mapping[str, str]
    draw: Draw
    long_by: tuple[str, float]
    cut: Cut = ""
    knit: bool = False
    buttons: tuple[int, float] | None = None

    def pattern(self, figure: Figure) -> Pattern:
        """The garment's usual pieces as a pattern in one size."""
        return Pattern(self.words, garment=self.garment, cut=self.cut, pieces=tuple(self.draw(figure)))


def _drawn(shape: str, **figures: float) -> PieceShape:
    return QUICK_SHAPES[shape].draw(figures)


def _piece(
    number: int, name: str, cut: int, shape: PieceShape, role: Role = "self", mirrored: bool = False, hem: float = 0.0
) -> Piece:
    own = {"hem": hem} if hem else {}
    return Piece(
        str(number), name, cut, role, mirrored, allowance_mm=ALLOWANCE_MM, allowance_included=False,
        edge_allowances=own, shapes={SIZE: shape},
    )  # fmt: skip


def _upper(f: Figure, share: float, front: bool, overlap: float | None = None, flare: float = 0.0) -> PieceShape:
    """Half a front or back; with an overlap a front with a centre edge."""
    depth = 85.0 if front else 25.0
    figures = {
        "centre_length": max(share * f.height - (60.0 if front else 0.0), f.armhole + 50.0 - depth),
        "neck_width": f.neck,
        "neck_depth": depth,
        "shoulder": f.shoulder,
        "shoulder_drop": 48.0,
        "armhole_depth": f.armhole,
        "chest_width": f.bust / 4.0 + (5.0 if front else -5.0),
        "hem_width": max(f.hip if share > 0.33 else f.waist, f.bust * 0.98) / 4.0 + flare,
    }
    if overlap is not None:
        return _drawn("bodice-front", overlap=overlap, **figures)
    return _drawn("bodice-front-fold" if front else "bodice-back", **figures)


def _sleeve(f: Figure, share: float = 0.357) -> PieceShape:
    width = f.bust * 0.34
    return _drawn(
        "sleeve",
        length=share * f.height,
        cap_height=min(f.armhole * 0.55, 0.6 * share * f.height),  # lower in a short sleeve on a broad, small body
        width=width,
        hem_width=width * (0.65 if share > 0.3 else 0.92),
    )


def _band(length: float, width: float) -> PieceShape:
    return _drawn("rectangle", length=length, width=width)


def _neck_facings(f: Figure, first: int) -> list[Piece]:
    front = _drawn("curved-facing", neck_width=f.neck, neck_depth=85.0, facing_width=60.0)
    back = _drawn("curved-facing", neck_width=f.neck, neck_depth=25.0, facing_width=60.0)
    drawn = ((front, "Front neck facing"), (back, "Back neck facing"))
    outer = [_piece(first + k, name, 1, shape) for k, (shape, name) in enumerate(drawn)]
    stiff = [
        _piece(first + 2 + k, f"{name}, interfacing", 1, shape, "interfacing") for k, (shape, name) in enumerate(drawn)
    ]
    return [*outer, *stiff]


def _shirt(f: Figure) -> list[Piece]:
    half_neck = f.neck * 2.6
    fall = _drawn("collar-fall", half_length=half_neck, centre_height=55.0, point=75.0)
    stand = _drawn("collar-stand", half_length=half_neck + 25.0, centre_height=40.0, front_height=32.0, rise=12.0)
    cuff = _band(f.bust * 0.24, 140.0)
    return [
        _piece(1, "Front", 2, _upper(f, 0.43, True, 20.0), mirrored=True, hem=15.0),
        _piece(2, "Back", 1, _upper(f, 0.43, False), hem=15.0),
        _piece(3, "Sleeve", 2, _sleeve(f, 0.33), mirrored=True),
        _piece(4, "Collar", 2, fall),
        _piece(5, "Collar stand", 2, stand),
        _piece(6, "Cuff", 2, cuff),
        _piece(7, "Front band", 2, _band(0.43 * f.height, 60.0)),
        _piece(8, "Collar, interfacing", 1, fall, "interfacing"),
        _piece(9, "Collar stand, interfacing", 1, stand, "interfacing"),
        _piece(10, "Cuff, interfacing", 2, _band(f.bust * 0.24, 70.0), "interfacing"),
    ]  # fmt: skip


def _plain_top(f: Figure) -> list[Piece]:
    return [
        _piece(1, "Front", 1, _upper(f, 0.38, True), hem=HEM_MM),
        _piece(2, "Back", 1, _upper(f, 0.38, False), hem=HEM_MM),
        *_neck_facings(f, 3),
    ]


def _tee(f: Figure) -> list[Piece]:
    return [
        _piece(1, "Front", 1, _upper(f, 0.39, True), hem=25.0),
        _piece(2, "Back", 1, _upper(f, 0.39, False), hem=25.0),
        _piece(3, "Sleeve", 2, _sleeve(f, 0.13), mirrored=True, hem=25.0),
        _piece(4, "Neck band", 1, _band(f.neck * 6.0, 40.0)),
    ]


def _dress(f: Figure, sleeves: bool) -> list[Piece]:
    """A dress of two lengths from neck to hem, the zip in the centre back seam."""
    return [
        _piece(1, "Front", 1, _upper(f, 0.6, True, flare=30.0), hem=HEM_MM),
        _piece(2, "Back", 2, _upper(f, 0.6, False, 0.0, flare=30.0), mirrored=True, hem=HEM_MM),
        *([_piece(3, "Sleeve", 2, _sleeve(f), mirrored=True, hem=HEM_MM)] if sleeves else []),
        *_neck_facings(f, 4),
    ]


def _waisted_dress(f: Figure) -> list[Piece]:
    """A bodice to the waist, short sleeves, a skirt of two widths gathered to it by half again."""
    skirt = _drawn("rectangle-on-fold", length=0.36 * f.height, half_width=f.waist * 1.5 / 4.0)
    return [
        _piece(1, "Bodice front", 1, _upper(f, 0.25, True)),
        _piece(2, "Bodice back", 2, _upper(f, 0.25, False, 0.0), mirrored=True),
        _piece(3, "Sleeve", 2, _sleeve(f, 0.13), mirrored=True, hem=HEM_MM),
        _piece(4, "Skirt", 2, skirt),
        *_neck_facings(f, 5),
    ]


def _waistband(f: Figure, number: int) -> list[Piece]:
    band = _band(f.waist + 30.0, 70.0)
    return [_piece(number, "Waistband", 1, band), _piece(number + 1, "Waistband, interfacing", 1, band, "interfacing")]


def _straight_skirt(f: Figure) -> list[Piece]:
    wide = f.hip / 4.0
    back = _drawn("tapered-panel", length=0.36 * f.height, top_width=f.waist / 4.0 + 35.0, bottom_width=wide)
    return [
        _piece(1, "Front", 1, _drawn("rectangle-on-fold", length=0.36 * f.height, half_width=wide), hem=HEM_MM),
        _piece(2, "Back", 2, back, mirrored=True, hem=HEM_MM),
        *_waistband(f, 3),
    ]


def _flared_skirt(f: Figure) -> list[Piece]:
    panel = _drawn("gored-panel", length=0.36 * f.height, top_width=f.waist / 4.0, hem_width=f.hip / 4.0 + 110.0)
    return [_piece(1, "Panel", 4, panel, hem=HEM_MM), *_waistband(f, 2)]


def _gathered_skirt(f: Figure) -> list[Piece]:
    panel = _drawn("rectangle-on-fold", length=0.36 * f.height, half_width=f.waist * 2.0 / 4.0)
    return [_piece(1, "Skirt", 2, panel, hem=HEM_MM), *_waistband(f, 2)]


def _circle_skirt(f: Figure) -> list[Piece]:
    quarter = _drawn("quarter-circle", waist_radius=f.waist / 6.2832, length=0.34 * f.height)
    # Half of it opened would be wider than most cloth: four quarters, sewn.
    return [_piece(1, "Quarter of the circle", 4, replace(quarter, fold_edge=None), hem=15.0), *_waistband(f, 2)]


def _legs(f: Figure, share: float, hem_width: float) -> list[Piece]:
    """Trousers by hip and height; front and back leg, waistband, pocket and fly pieces."""
    crotch = 0.155 * f.height + 10.0
    own = {"length": share * f.height, "crotch_depth": crotch, "hem_width": hem_width}
    front = _drawn(
        "trouser-front",
        waist_width=f.waist / 4.0 + 5.0,
        hip_width=f.hip / 4.0 - 8.0,
        thigh_width=f.hip / 4.0 + 45.0,
        **own,
    )
    back = _drawn(
        "trouser-back", waist_width=f.waist / 4.0 + 20.0, hip_width=f.hip / 4.0 + 12.0, thigh_width=f.hip / 4.0 + 115.0,
        seat_lean=40.0, seat_rise=30.0, **{**own, "hem_width": hem_width + 20.0},
    )  # fmt: skip
    return [
        _piece(1, "Front", 2, front, mirrored=True, hem=40.0),
        _piece(2, "Back", 2, back, mirrored=True, hem=40.0),
        _piece(3, "Pocket side", 2, _band(170.0, 160.0), mirrored=True),
        _piece(4, "Fly facing", 3, _band(180.0, 55.0)),
        *_waistband(f, 5),
    ]


def _jacket(f: Figure, share: float, hem: float) -> list[Piece]:
    """A lined jacket or coat: centre fronts with facings, a centre back seam, sleeves, collar; lining to the same lines."""
    front, back = _upper(f, share, True, 30.0, flare=10.0), _upper(f, share, False, 0.0, flare=10.0)
    sleeve = _sleeve(f, 0.365)
    collar = _drawn("collar-one-piece", half_length=f.neck * 2.7, centre_height=80.0, point=90.0)
    facing = _drawn("straight-facing", length=share * f.height, width=95.0, shoulder_width=50.0, neck_depth=85.0)
    return [
        _piece(1, "Front", 2, front, mirrored=True, hem=hem),
        _piece(2, "Back", 2, back, mirrored=True, hem=hem),
        _piece(3, "Sleeve", 2, sleeve, mirrored=True, hem=hem),
        _piece(4, "Collar", 2, collar),
        _piece(5, "Front facing", 2, facing, mirrored=True, hem=hem),
        _piece(6, "Pocket and flap", 4, _band(180.0, 160.0)),
        _piece(7, "Front lining", 2, front, "lining", True),
        _piece(8, "Back lining", 2, back, "lining", True),
        _piece(9, "Sleeve lining", 2, sleeve, "lining", True),
        _piece(10, "Front facing, interfacing", 2, facing, "interfacing", True),
        _piece(11, "Collar, interfacing", 2, collar, "interfacing"),
    ]  # fmt: skip


def _waistcoat(f: Figure) -> list[Piece]:
    front, back = _upper(f, 0.31, True, 20.0), _upper(f, 0.3, False, 0.0)
    facing = _drawn("straight-facing", length=0.31 * f.height, width=80.0, shoulder_width=45.0, neck_depth=85.0)
    return [
        _piece(1, "Front", 2, front, mirrored=True),
        _piece(2, "Back", 2, back, mirrored=True),
        _piece(3, "Front facing", 2, facing, mirrored=True),
        _piece(4, "Front lining", 2, front, "lining", True),
        _piece(5, "Back lining", 2, back, "lining", True),
        _piece(6, "Front facing, interfacing", 2, facing, "interfacing", True),
    ]


_FUSED = {"interfacing": "fusible"}
_FACED = {"neck": "facing", **_FUSED}
_ZIP = {"closure": "invisible-zip", **_FACED}
_BAND = {"waist": "band", "closure": "invisible-zip", **_FUSED}
_UPPER: tuple[Zone, ...] = ("bust", "waist", "hip")
_LOWER: tuple[Zone, ...] = ("waist", "hip")

USUAL_GARMENTS: Mapping[str, UsualGarment] = {
    g.key: g
    for g in (
        UsualGarment(
            "shirt", "Shirt or blouse, long sleeves", "top", _UPPER,
            {"collar": "two-piece", "front": "band", "closure": "buttons", "sleeve": "set-in", "cuff": "band", "hem": "narrow",
             **_FUSED},
            _shirt, ("from the nape to the hem", 0.43),
        ),
        UsualGarment(
            "plain-top", "Top without sleeves", "top", _UPPER, {"armhole": "facing", "hem": "double", **_FACED}, _plain_top,
            ("from the nape to the hem", 0.38),
        ),
        UsualGarment(
            "tee", "T-shirt, of a knit", "top", _UPPER,
            {"neck": "band", "sleeve": "set-in", "cuff": "hem", "hem": "twin-needle"}, _tee, ("from the nape to the hem", 0.39),
            knit=True,
        ),
        UsualGarment(
            "dress", "Dress with sleeves", "dress", _UPPER, {"sleeve": "set-in", "cuff": "hem", "hem": "blind", **_ZIP},
            lambda f: _dress(f, True), ("from the nape to the hem, at the knee", 0.6),
        ),
        UsualGarment(
            "plain-dress", "Dress without sleeves", "dress", _UPPER, {"armhole": "facing", "hem": "blind", **_ZIP},
            lambda f: _dress(f, False), ("from the nape to the hem, at the knee", 0.6),
        ),
        UsualGarment(
            "waisted-dress", "Dress with a gathered skirt", "dress", _UPPER,
            {"sleeve": "set-in", "cuff": "hem", "waist-seam": "joined", "gathers": "waist", "hem": "double", **_ZIP},
            _waisted_dress, ("from the waist to the hem, at the knee", 0.36),
        ),
        UsualGarment(
            "straight-skirt", "Straight skirt", "skirt", _LOWER, {"shaping": "darts", "hem": "blind", **_BAND}, _straight_skirt,
            ("from the waist to the hem, at the knee", 0.36), "close",
        ),
        UsualGarment(
            "flared-skirt", "Flared skirt", "skirt", _LOWER, {"hem": "narrow", **_BAND}, _flared_skirt,
            ("from the waist to the hem, at the knee", 0.36), "flared",
        ),
        UsualGarment(
            "gathered-skirt", "Gathered skirt", "skirt", _LOWER, {"gathers": "waist", "hem": "double", **_BAND}, _gathered_skirt,
            ("from the waist to the hem, at the knee", 0.36), "gathered",
        ),
        UsualGarment(
            "circle-skirt", "Circle skirt", "skirt", _LOWER, {"hem": "narrow", **_BAND}, _circle_skirt,
            ("from the waist to the hem, above the knee", 0.34), "flared",
        ),
        UsualGarment(
            "trousers", "Trousers", "trousers", _LOWER,
            {"legs": "trousers", "closure": "fly", "waist": "stiff-band", "pocket": "slant", "hem": "blind", **_FUSED},
            lambda f: _legs(f, 0.62, 210.0), ("down the side", 0.62),
        ),
        UsualGarment(
            "shorts", "Shorts", "trousers", _LOWER,
            {"legs": "trousers", "closure": "fly", "waist": "stiff-band", "pocket": "slant", "hem": "double", **_FUSED},
            lambda f: _legs(f, 0.29, f.hip / 4.0 + 40.0), ("down the side", 0.29),
        ),
        UsualGarment(
            "jacket", "Jacket, lined", "jacket", _UPPER,
            {"collar": "one-piece", "front": "facing", "closure": "buttons", "sleeve": "set-in", "lining": "bagged", "hem": "hand",
             "pocket": "patch", **_FUSED},
            lambda f: _jacket(f, 0.42, 40.0), ("from the nape to the hem", 0.42), buttons=(3, 20.0),
        ),
        UsualGarment(
            "coat", "Coat, lined", "coat", _UPPER,
            {"collar": "one-piece", "front": "facing", "closure": "buttons", "sleeve": "set-in", "lining": "bagged", "hem": "hand",
             "pocket": "welt-flap", **_FUSED},
            lambda f: _jacket(f, 0.62, COAT_HEM_MM), ("from the nape to the hem, at the knee", 0.62), buttons=(5, 25.0),
        ),
        UsualGarment(
            "waistcoat", "Waistcoat", "jacket", _UPPER,
            {"lining": "bagged", "armhole": "lined", "closure": "buttons", **_FUSED}, _waistcoat, ("from the nape to the hem", 0.3),
            buttons=(5, 15.0),
        ),
    )
}  # fmt: skip


def usual_garment(pattern: Pattern, view: str) -> UsualGarment:
    """The usual garment that a pattern's view is most like, by its kind, what it is described to have, and its name."""
    features = pattern.view(view).features
    words = f"{pattern.name} {pattern.view(view).description}".lower()
    sleeved = features.get("sleeve", "none") != "none"
    key = {"top": "plain-top", "dress": "plain-dress", "trousers": "trousers", "jacket": "jacket", "coat": "coat"}.get(
        pattern.garment, ""
    )
    if pattern.garment == "skirt":
        key = {"flared": "flared-skirt", "gathered": "gathered-skirt"}.get(pattern.cut, "straight-skirt")
        key = "circle-skirt" if "circle" in words else key
    elif pattern.garment == "top" and (
        features.get("closure") == "buttons" or ("shirt" in words and "t-shirt" not in words)
    ):
        key = "shirt"
    elif pattern.garment == "top" and sleeved:
        key = "tee"
    elif pattern.garment == "dress" and features.get("waist-seam", "none") != "none":
        key = "waisted-dress"
    elif pattern.garment == "dress" and sleeved:
        key = "dress"
    elif pattern.garment == "trousers" and "short" in words:
        key = "shorts"
    elif pattern.garment == "jacket" and ("waistcoat" in words or "vest" in words):
        key = "waistcoat"
    return USUAL_GARMENTS[key]
