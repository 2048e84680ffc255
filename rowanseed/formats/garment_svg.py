"""Small line drawings of garments, by which one is picked: the silhouette, and the few lines that tell it from its neighbours."""

from functools import lru_cache

from rowanseed.formats.drawing import markup, tag

INK, FILL = "#2B2622", "#FDFAF3"
BOX = "0 0 60 72"
# For each garment its outline and its inner lines, upright, in a box of 60 by 72.
DRAWN: dict[str, tuple[str, str]] = {
    "shirt": (
        "M23 8 L30 12 L37 8 L46 11 L57 46 L50 48 L44 28 L45 62 L15 62 L16 28 L10 48 L3 46 L14 11 Z",
        "M30 12 V62 M23 8 L26 16 L30 12 L34 16 L37 8 M4 42 L11 44 M56 42 L49 44 M27 24 h0.1 M27 36 h0.1 M27 48 h0.1",
    ),
    "plain-top": ("M22 8 Q30 18 38 8 L43 10 Q41 22 46 27 L46 60 L14 60 L14 27 Q19 22 17 10 Z", "M14 56 H46"),
    "tee": (
        "M22 8 Q30 15 38 8 L46 11 L56 27 L49 31 L45 25 L45 60 L15 60 L15 25 L11 31 L4 27 L14 11 Z",
        "M21 10 Q30 19 39 10 M15 56 H45"),
    "dress": ("M22 4 Q30 11 38 4 L45 7 L54 36 L48 38 L43 22 L42 30 L49 69 L11 69 L18 30 L17 22 L12 38 L6 36 L15 7 Z", "M12 65 H48"),
    "plain-dress": ("M22 4 Q30 13 38 4 L42 6 Q40 17 44 21 L42 31 L49 69 L11 69 L18 31 L16 21 Q20 17 18 6 Z", "M12 65 H48"),
    "waisted-dress": (
        "M22 4 Q30 11 38 4 L45 7 L52 19 L46 22 L43 18 L41 31 L54 69 L6 69 L19 31 L17 18 L14 22 L8 19 L15 7 Z",
        "M19 31 H41 M24 32 L22 40 M28 32 V41 M32 32 V41 M36 32 L38 40",
    ),
    "straight-skirt": ("M18 12 H42 Q46 24 45 34 L43 66 H17 L15 34 Q14 24 18 12 Z", "M18 17 H42 M24 18 L25 27 M36 18 L35 27"),
    "flared-skirt": ("M20 12 H40 L52 62 Q30 70 8 62 Z", "M19 17 H41 M26 18 L21 62 M34 18 L39 62"),
    "gathered-skirt": ("M20 12 H40 L52 64 H8 Z", "M19 17 H41 M23 19 L20 30 M27 19 L26 32 M31 19 V32 M35 19 L37 31 M38 19 L42 29"),
    "circle-skirt": (
        "M21 16 H39 L58 50 Q51 60 45 54 Q38 62 30 56 Q22 62 15 54 Q9 60 2 50 Z",
        "M20 20 H40 M27 22 L15 53 M33 22 L45 53"),
    "trousers": ("M18 6 H42 L47 68 H34 L30 26 L26 68 H13 Z", "M18 11 H42 M30 11 V26 M19 12 L16 22 M41 12 L44 22"),
    "shorts": ("M18 12 H42 L49 50 H33 L30 33 L27 50 H11 Z", "M18 17 H42 M30 17 V33"),
    "jacket": (
        "M22 6 L30 30 L38 6 L46 9 L57 48 L49 51 L45 30 L46 62 L14 62 L15 30 L11 51 L3 48 L14 9 Z",
        "M22 6 L16 18 L24 24 L30 30 L36 24 L44 18 L38 6 M30 30 V62 M18 48 H26 M34 48 H42",
    ),
    "coat": (
        "M22 3 L30 24 L38 3 L46 6 L56 42 L49 45 L45 27 L50 69 L10 69 L15 27 L11 45 L4 42 L14 6 Z",
        "M22 3 L17 13 L25 19 L30 24 L35 19 L43 13 L38 3 M30 24 V69 M17 42 H25 M35 42 H43",
    ),
    "waistcoat": (
        "M21 8 L30 32 L39 8 L43 10 Q40 24 46 29 L46 54 L38 60 L30 55 L22 60 L14 54 L14 29 Q20 24 17 10 Z",
        "M30 32 V55 M18 44 H25 M35 44 H42"),
}  # fmt: skip


@lru_cache(maxsize=64)
def garment_svg(key: str) -> str:
    """The drawing of a garment; decoration beside its words, so it has no words of its own."""
    outline, lines = DRAWN[key]
    pen = {"stroke": INK, "stroke_linejoin": "round", "stroke_linecap": "round"}
    drawing = tag(
        "svg",
        tag("path", d=outline, fill=FILL, stroke_width="1.6", **pen),
        tag("path", d=lines, fill="none", stroke_width="1", **pen),
        css="garment-fig",
        viewBox=BOX,
        aria_hidden="true",
        focusable="false",
    )
    return markup(drawing)
