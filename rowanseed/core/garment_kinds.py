"""Kinds of garment, how skirts and trousers hang, and the zones of the body that a garment is sized at."""

from collections.abc import Mapping
from typing import Literal, get_args

Zone = Literal["bust", "waist", "hip"]
ZONES: tuple[Zone, ...] = ("bust", "waist", "hip")
GarmentKind = Literal["top", "dress", "skirt", "trousers", "jacket", "coat"]
GARMENT_KINDS: tuple[GarmentKind, ...] = get_args(GarmentKind)
Cut = Literal["", "close", "flared", "gathered"]
CUTS: tuple[Cut, ...] = get_args(Cut)

_UPPER = ("bust", "high_bust", "waist", "hip", "back_waist", "across_back", "shoulder", "arm_length")
# What each garment asks of a body: what decides its size, then what its pieces are held against (common practice, no source).
TAPES: Mapping[GarmentKind, tuple[str, ...]] = {
    "top": _UPPER,
    "dress": (*_UPPER, "hip_depth", "waist_to_knee"),
    "skirt": ("waist", "hip", "hip_depth", "waist_to_knee"),
    "trousers": ("waist", "hip", "hip_depth", "crotch_depth", "crotch_length", "thigh", "inseam"),
    "jacket": (*_UPPER, "upper_arm"),
    "coat": (*_UPPER, "upper_arm", "waist_to_knee"),
}
OF_SLEEVES = frozenset(("arm_length", "upper_arm"))  # asked only where there is a sleeve


def a_garment(kind: GarmentKind) -> str:
    """The garment with its article, where it has one.

    >>> a_garment("skirt"), a_garment("trousers")
    ('a skirt', 'trousers')
    """
    return kind if kind == "trousers" else f"a {kind}"
