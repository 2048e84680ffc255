"""The fit record: a note becomes the alteration that mends it, measured on the pieces afterwards."""

import pytest

from rowanseed.core.errors import Finding
from rowanseed.core.fit.alter import alter
from rowanseed.core.fit.causes import OTHERS, other_ways
from rowanseed.core.fit.finished_measurements import finished_girths
from rowanseed.core.fit.kinds import KINDS, Alteration
from rowanseed.core.fit.record import PLACES, FitNote, fault_of, propose
from rowanseed.core.lengths import Length, parse_length
from rowanseed.core.pattern.seamwalk import AlterPiece
from rowanseed.demo import overshirt, trousers, waistcoat


def girths(pattern, size, alterations=()):
    pieces = [AlterPiece(p.number, p.shapes[size], p.same_as, p.allowance_mm) for p in pattern.pieces]
    done = alter(pieces, pattern.seams, alterations)
    assert not [f for f in done.findings if f.level == "stop"]
    by_id = {p.id: p.shape for p in done.pieces}
    shell = [(p, by_id[p.number]) for p in pattern.pieces_of("A", "self")]
    return {level: girth.mm for level, girth in finished_girths(shell).items()}


@pytest.mark.parametrize(
    ("module", "size", "place", "fault", "change"),
    [
        (overshirt, "14", "hip", "wide", -20.0),
        (overshirt, "14", "waist", "tight", 30.0),
        (trousers, "40", "hip", "wide", -20.0),
        (trousers, "40", "thigh", "tight", 16.0),
        (waistcoat, "M", "waist", "wide", -24.0),
    ],
)
def test_what_was_pinned_is_what_the_garment_changes_by(module, size, place, fault, change):
    pattern = module.pattern()
    note = FitNote(place, fault, parse_length(f"{abs(change) / 10:g} cm"))
    alteration = propose(note, pattern, "A", size)
    level = PLACES[place].level
    grown = girths(pattern, size, [alteration])[level] - girths(pattern, size)[level]
    assert grown == pytest.approx(change, abs=1.0)
    assert alteration.why == note.sentence()


def test_a_tight_bust_becomes_a_full_bust_opened_by_half_on_each_front():
    alteration = propose(FitNote("bust", "tight", parse_length("4 cm")), overshirt.pattern(), "A", "14")
    assert (alteration.kind, alteration.piece, alteration.by_mm) == ("bust", "3", 20.0)
    grown = girths(overshirt.pattern(), "14", [alteration])
    assert grown["waist"] - girths(overshirt.pattern(), "14")["waist"] == pytest.approx(40.0, abs=1.5)


def test_lengths_are_changed_by_the_whole_amount_at_the_pieces_own_line():
    short = propose(FitNote("sleeve-length", "short", parse_length("1 in")), overshirt.pattern(), "A", "14")
    assert (short.kind, short.piece, short.by_mm) == ("length", "4", 25.4)
    shape = next(p for p in overshirt.pattern().pieces if p.number == "4").shapes["14"]
    assert short.at_mm == next(line.points[0][0] for line in shape.lines if line.kind == "lengthen")


def test_a_note_says_itself_and_what_no_piece_can_take_is_said():
    note = FitNote("hip", "wide", parse_length("2 cm"), words="pinned at the left")
    assert note.sentence() == "2 cm too wide at the hip: pinned at the left"
    none = propose(FitNote("crotch", "tight", parse_length("1 cm")), overshirt.pattern(), "A", "14")
    assert isinstance(none, Finding) and "crotch" in none.text
    assert all(fault.kind in KINDS for place in PLACES.values() for fault in place.faults)


@pytest.mark.parametrize(
    ("module", "place", "fault", "kind", "piece", "sign"),
    [
        (overshirt, "lower-back", "pools", "sway-back", "1", 1),
        (overshirt, "upper-back", "tight", "across", "1", 1),
        (overshirt, "upper-back", "folds", "rounded-back", "1", -1),
        (overshirt, "chest", "hollow", "chest", "3", -1),
        (overshirt, "neck", "gapes", "gaping-neck", "3", 1),
        (overshirt, "shoulder-line", "short", "shoulder-length", "3", 1),
        (overshirt, "elbow", "tight", "elbow", "4", 1),
        (trousers, "seat", "flat", "seat", "2", -1),
        (trousers, "inner-leg", "pulls", "crotch-length", "1", 1),
        (trousers, "rise", "short", "rise", "1", 1),
        (trousers, "knee", "bowed", "bowed-leg", "1", 1),
    ],
)
def test_what_a_trial_shows_by_folds_and_lines_becomes_the_alteration_that_mends_it(
    module, place, fault, kind, piece, sign
):
    pattern = module.pattern()
    size = pattern.size_names()[2]
    note = FitNote(place, fault, Length(12.0, "1.2 cm", "cm"))
    found = propose(note, pattern, "A", size)
    assert isinstance(found, Alteration) and (found.kind, found.piece, found.by_mm) == (kind, piece, sign * 12.0)
    assert "1.2 cm" in note.sentence() and "  " not in note.sentence()
    pieces = [
        AlterPiece(p.number, p.shapes[size], p.same_as, p.allowance_mm, p.follows)
        for p in pattern.pieces
        if size in p.shapes
    ]
    assert not [f for f in alter(pieces, pattern.seams, [found]).findings if f.level == "stop"]


def test_every_other_cause_names_a_fault_that_there_is_and_never_itself():
    for (place, fault), others in OTHERS.items():
        assert fault_of(place, fault) is not None
        for other in others:
            assert fault_of(other.place, other.fault) is not None, other
            assert (other.place, other.fault) != (place, fault) and other.told_by


def test_what_pulls_at_the_seat_may_come_from_the_crotch_or_the_hip_in_that_order():
    pattern = trousers.pattern()
    size = pattern.size_names()[2]
    note = FitNote("seat", "tight", Length(15.0, "1.5 cm", "cm"))
    ways = other_ways(note, pattern, "A", size)
    assert [w.alteration.kind for w in ways] == ["crotch-length", "taper"]
    assert all(w.alteration.why == note.sentence() for w in ways)
    assert ways[0].alteration.piece == "2"  # the back's
    assert ways[1].alteration.by_mm == pytest.approx(15.0 / 4)  # shared out over four side edges
    assert other_ways(FitNote("hem", "long", Length(10.0, "1 cm", "cm")), pattern, "A", size) == []
