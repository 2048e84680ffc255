"""Kinds of garment, how skirts and trousers hang, and the zones of the body that a garment is sized at."""

from typing import Literal, get_args

Zone = Literal["bust", "waist", "hip"]
ZONES: tuple[Zone, ...] = ("bust", "waist", "hip")
GarmentKind = Literal["top", "dress", "skirt", "trousers", "jacket", "coat"]
GARMENT_KINDS: tuple[GarmentKind, ...] = get_args(GarmentKind)
Cut = Literal["", "close", "flared", "gathered"]
CUTS: tuple[Cut, ...] = get_args(Cut)


def a_garment(kind: GarmentKind) -> str:
    """The garment with its article, where it has one.

    >>> a_garment("skirt"), a_garment("trousers")
    ('a skirt', 'trousers')
    """
    return kind if kind == "trousers" else f"a {kind}"
