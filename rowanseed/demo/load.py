"""Loading the invented household, through the same functions a user's pages call."""

import sqlite3
from collections.abc import Mapping
from dataclasses import replace
from datetime import date, datetime, time, timedelta
from decimal import Decimal
from pathlib import Path
from typing import cast

from rowanseed.core.cloth.model import Cloth
from rowanseed.core.cloth.shops import Price, Shop
from rowanseed.core.fit.kinds import Alteration
from rowanseed.core.fit.record import FitNote
from rowanseed.core.lay.model import Effort
from rowanseed.core.lengths import Length, parse_length
from rowanseed.core.make.cutting import cut_cards
from rowanseed.core.make.lay_requests import fingerprint, lay_request
from rowanseed.core.make.pieces import altered_pattern, roles_of, sized_pieces
from rowanseed.core.make.plan import MakePlan
from rowanseed.core.make.sewing import features_of
from rowanseed.core.pattern.model import Pattern, Role
from rowanseed.core.prints import Bar, Print
from rowanseed.core.sew.model import SewnGarment
from rowanseed.core.sew.order import sequence
from rowanseed.core.shopping import Supply
from rowanseed.demo import overshirt, trousers, waistcoat
from rowanseed.demo.samples import sample
from rowanseed.demo.shipped import laid
from rowanseed.formats.sewing import library
from rowanseed.store import cloths, db, fitnotes, intakes, makes, patterns, people, stash
from rowanseed.store.makes import Make
from rowanseed.store.settings import settings

PEOPLE = (
    ("Marit Lindqvale", False, "Likes room to reach.", {
        "bust": "38 in", "high_bust": "36 in", "waist": "31 1/4 in", "hip": "40 1/2 in", "height": "171 cm",
        "back_waist": "16 1/2 in", "upper_arm": "12 in", "arm_length": "23 1/2 in",
    }),
    ("Oswin Tarrow", False, "", {
        "bust": "104 cm", "waist": "92 cm", "hip": "105 cm", "height": "178 cm", "inseam": "80 cm",
        "crotch_depth": "28 cm",
    }),
    ("Pia Holloway-Reed", False, "Sings alto.", {"bust": "89 cm", "waist": "72 cm", "hip": "97 cm", "height": "166 cm"}),
    ("Benno Askew", False, "Sings bass.", {"bust": "110 cm", "waist": "99 cm", "hip": "112 cm", "height": "184 cm"}),
    ("Lotte Askew", True, "Grows fast.", {"bust": "66 cm", "waist": "60 cm", "hip": "70 cm", "height": "128 cm"}),
)  # fmt: skip


SAMPLES = ("trousers-a4.pdf", "nested-sheet.jpg", "piece-on-a-table.jpg")  # taken in, not kept yet

SUPPLIES = (
    Supply("thread", "to match Falling leaf cotton", 100_000.0, "leaf green"),
    Supply("buttons", "", 9, "horn, 15 mm"),
    Supply("needles", "universal 80/12", 1, "half a packet"),
    Supply("elastic", "for the waist", 1500.0),
)
SHOPS = (
    Shop(
        "The corner draper", "€", "10 cm",
        (
            Price("main", "", Decimal("14.50"), "m", 1500.0), Price("main", "", Decimal("11.00"), "m", 1120.0),
            Price("main", "", Decimal("13.00"), "m", 1400.0), Price("lining", "", Decimal("7.90"), "m"),
            Price("interfacing", "", Decimal("5.20"), "m"), Price("buttons", "", Decimal("0.80"), "each"),
            Price("zip", "", Decimal("3.40"), "each"),
        ),
    ),
    Shop("Yard & Ell", "$", "1/4 yd", (Price("main", "", Decimal("16.00"), "yd", 1524.0),)),
)  # fmt: skip
GROWN = (
    (700, {"bust": "61 cm", "waist": "56 cm", "hip": "63 cm", "height": "115 cm"}),
    (430, {"bust": "63 cm", "waist": "57.5 cm", "hip": "66 cm", "height": "121 cm"}),
)


def _cloths() -> dict[str, Cloth]:
    one = parse_length
    return {
        "leaf": Cloth(
            "Falling leaf cotton", one("150 cm"), one("1 cm"), one("2.6 m"), fibre="cotton", weight="medium",
            print=Print("one-way", True, 92.0, 128.0), print_colours=("#E8E4CF", "#8A9A7B"), care="wash at 40",
            shrink_along=0.02, shrink_across=0.01, prepared=True, bought="the market in spring",
        ),
        "corduroy": Cloth(
            "Bark corduroy", one("142 cm"), one("1 cm"), one("1.7 m"), fibre="cotton", weight="heavy", nap="one-way",
            print_colours=("#B98F63", "#8C6438"), piled=True, ravels=True, care="wash at 30, inside out", prepared=True,
            pile_note="cut with the pile running up",
        ),
        "tweed": Cloth(
            "Rook-grey wool", one("58 in"), one("1/2 in"), one("5 yd"), fibre="wool", weight="heavy", ravels=True,
            print_colours=("#A9A8A2", "#6E6D68"), care="steam", prepared=True,
        ),
        "lining": Cloth(
            "Slate lining", one("140 cm"), one("1 cm"), None, "lining", fibre="viscose", weight="light", slippery=True,
            print_colours=("#B9C3CF", "#8D9CAD"), shrink_along=0.03, shrink_across=0.02, care="wash at 30",
        ),
        "fusible": Cloth(
            "Light fusible", one("90 cm"), one("0 cm"), one("3 m"), "interfacing", fibre="polyester", weight="light",
            print_colours=("#F4F1EA", "#E0DACC"), prepared=True,
        ),
        "check": Cloth(
            "Hedgerow check", one("148 cm"), one("1 cm"), one("2.9 m"), fibre="cotton", weight="medium",
            print=Print("plaid", True, 120.0, 120.0, 0.0, 0.0, False, 30.0, 30.0), print_colours=("#EFE6D2", "#6E7F63"),
            bars_along=(Bar(0.0, 60.0, "#6E7F63"), Bar(84.0, 12.0, "#B23A1E")),
            bars_across=(Bar(0.0, 60.0, "#6E7F63"), Bar(84.0, 12.0, "#B23A1E")), care="wash at 40", prepared=True,
        ),
        "canvas": Cloth(
            "Oat canvas", one("44 in"), one("3/8 in"), one("3 1/2 yd"), fibre="linen", weight="heavy",
            print_colours=("#E2D5BA", "#C7B48D"), care="wash hot", shrink_along=0.05, shrink_across=0.03,
        ),
    }  # fmt: skip


def load_demo_if_new(path: Path, today: date | None = None) -> bool:
    """Make the demo database when there is none; whether it was made."""
    if path.exists():
        return False
    path.parent.mkdir(parents=True, exist_ok=True)
    conn = db.connect(path)
    try:
        db.migrate(conn)
        load_demo(conn, today or date.today())
    finally:
        conn.close()
    return True


def load_demo(conn: sqlite3.Connection, today: date, effort: Effort = "good") -> None:
    """Load the household into an empty database, and lay what lies on its table with this effort."""
    with db.write(conn):
        folk = _add_people(conn, today)
        cloth_ids = {key: cloths.add_cloth(conn, cloth, demo=True) for key, cloth in _cloths().items()}
        for supply in SUPPLIES:
            stash.add_supply(conn, supply, demo=True)
        for shop in SHOPS:
            stash.add_shop(conn, shop, demo=True)
        pattern_ids = {
            "shirt": patterns.add_pattern(conn, overshirt.pattern(), demo=True),
            "trousers": patterns.add_pattern(conn, trousers.pattern(), demo=True),
            "waistcoat": patterns.add_pattern(conn, waistcoat.pattern(), demo=True),
        }
        for name in SAMPLES:
            way: intakes.Way = "photo" if name.endswith(".jpg") else "file"
            options = '{"dpi": null, "square_mm": null}' if way == "photo" else "{}"
            at = datetime.combine(today, datetime.min.time())
            intakes.add(conn, way, name, [sample(name)], options, None, at, demo=True)
        ids = _add_makes(conn, folk, cloth_ids, pattern_ids, today, MakePlan(effort=effort, spread="lengthwise-fold"))
    long_ago = datetime.combine(today - timedelta(270), time(18))
    for make_id in ids:
        lay_make(conn, make_id, long_ago if make_id == ids[3] else None)
    with db.write(conn):
        _progress(conn, ids[0], datetime.now(), steps=9)
        _progress(conn, ids[3], long_ago)


def _add_people(conn: sqlite3.Connection, today: date) -> list[int]:
    out = []
    for k, (name, child, note, figures) in enumerate(PEOPLE):
        born_on = today - timedelta(days=2810) if child else None
        person_id = people.add_person(conn, name, child, note, demo=True, born_on=born_on)
        values = _lengths(figures)
        if k == 0:
            before = {**values, "waist": parse_length("30 1/2 in"), "hip": parse_length("40 in")}
            people.add_set(conn, person_id, today - timedelta(days=420), before)
        for days, earlier in GROWN if child else ():
            people.add_set(conn, person_id, today - timedelta(days=days), _lengths(earlier))
        people.add_set(conn, person_id, today - timedelta(days=40 + 35 * k), values)
        out.append(person_id)
    return out


def _lengths(figures: Mapping[str, str]) -> dict[str, Length]:
    return {key: parse_length(text) for key, text in figures.items()}


def _add_makes(
    conn: sqlite3.Connection,
    folk: list[int],
    cloth_ids: dict[str, int],
    pattern_ids: dict[str, int],
    today: date,
    plan: MakePlan,
) -> list[int]:
    """The makes of the household: an older one that left a note, three under way, and one in a check."""
    old = makes.add_make(
        conn, "First overshirt, in canvas", pattern_ids["shirt"], "B", [folk[0]], today - timedelta(300), plan, True
    )
    shirt = makes.add_make(
        conn,
        "Leaf overshirt",
        pattern_ids["shirt"],
        "A",
        [folk[0]],
        today - timedelta(12),
        replace(
            plan,
            school="finished",
            alterations=(Alteration("length", "3", 20.0, 380.0), Alteration("length", "4", 25.4, 400.0)),
        ),
        True,
    )
    single = replace(plan, spread="single")
    legs = makes.add_make(
        conn, "Corduroy trousers", pattern_ids["trousers"], "A", [folk[1]], today - timedelta(5), single, True
    )
    choir = makes.add_make(
        conn, "Four choir waistcoats", pattern_ids["waistcoat"], "A", [folk[2], folk[0], folk[1], folk[3]], today - timedelta(2),
        replace(plan, school="finished", want_ease={"bust": 80.0}), True,
    )  # fmt: skip
    checked = makes.add_make(
        conn, "Overshirt in the check", pattern_ids["shirt"], "A", [folk[0]], today - timedelta(1), plan, True
    )
    chosen = {old: ["14"], shirt: ["14"], legs: ["42"], choir: ["S", "M", "L", "XL"], checked: ["14"]}
    for make_id, sizes in chosen.items():
        for garment, size in zip(makes.make(conn, make_id).garments, sizes, strict=True):
            makes.put_size(conn, make_id, garment.id, size)
    for make_id, roles in {
        old: {"self": "canvas", "interfacing": "fusible"},
        shirt: {"self": "leaf", "interfacing": "fusible"},
        legs: {"self": "corduroy"},
        choir: {"self": "tweed", "lining": "lining", "interfacing": "fusible"},
        checked: {"self": "check", "interfacing": "fusible"},
    }.items():
        for role, cloth in roles.items():
            makes.put_cloth(conn, make_id, role, cloth_ids[cloth])
    makes.add_note(conn, old, "next-time", "Lengthen the sleeve by 1 in; the yoke sat well.", today - timedelta(250))
    makes.add_note(
        conn, old, "happened", "The canvas ravelled at once: overlock before anything else.", today - timedelta(280)
    )
    first = makes.make(conn, old).garments[0].id
    wide = FitNote("hip", "wide", parse_length("2 cm"), "worn", "it stands away when I sit")
    fitnotes.add_note(conn, old, first, wide, today - timedelta(250))
    short = FitNote("sleeve-length", "short", parse_length("1 in"), "worn")
    made = fitnotes.add_note(conn, old, first, short, today - timedelta(250))
    plan_of_shirt = makes.make(conn, shirt)
    makes.put_plan(conn, shirt, plan_of_shirt.version, replace(plan_of_shirt.plan, answered={str(made): "made"}))
    makes.finish(conn, old, today - timedelta(250))
    return [shirt, legs, choir, old, checked]


def lay_make(conn: sqlite3.Connection, make_id: int, at: datetime | None = None) -> None:
    """Lay every cloth of a make and keep the lays, as the Lay stage does; `at`: when, now where it is left open."""
    make, pattern, sizes = _decided(conn, make_id)
    for role in roles_of(pattern, make.view):
        cloth_id = make.cloths.get(role)
        if cloth_id is None:
            continue
        pieces, _ = sized_pieces(pattern, make.view, role, sizes)
        request = lay_request(pieces, cloths.cloth(conn, cloth_id).cloth, make.plan, seams=pattern.seams)
        found = laid(request)
        with db.write(conn):
            makes.put_lay(conn, make_id, role, fingerprint(request), found, at or datetime.now())


def _decided(conn: sqlite3.Connection, make_id: int) -> tuple[Make, Pattern, list[str]]:
    make = makes.make(conn, make_id)
    sizes = [g.size for g in make.garments if g.size]
    drawn = patterns.pattern(conn, make.pattern_id, sizes).pattern
    return make, altered_pattern(drawn, sizes, make.plan.alterations)[0], sizes


def _progress(conn: sqlite3.Connection, make_id: int, at: datetime, steps: int | None = None) -> None:
    """One make is cut, and sewn as far as so many steps, or to the end."""
    make, pattern, sizes = _decided(conn, make_id)
    for role, kept in makes.lays(conn, make_id).items():
        pieces, _ = sized_pieces(pattern, make.view, cast(Role, role), sizes)
        for card in cut_cards(role, kept.lay, pieces, set()):
            makes.tick(conn, make_id, "cut", card.key, True, at)
    tools = frozenset(settings(conn).tools)
    order = sequence(library(), SewnGarment(features_of(pattern, make.view, make.plan), tools), lambda op: {})
    for step in order[:steps]:
        makes.tick(conn, make_id, "sew", step.operation.id, True, at)
