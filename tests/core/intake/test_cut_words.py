"""What is printed on pieces of their cutting, in five languages; the words are common practice, no source."""

import pytest

from rowanseed.core.intake.names import piece_words

SAID = [  # the lines on a piece: its number, its name, how many, on the fold, half of them mirrored, of what
    (["1 Front", "C ut 2"], ("1", "Front", 2, False, True, "")),
    (["5 Sleeve", "C ut 2 o n f old"], ("5", "Sleeve", 2, True, False, "")),
    (["4 Sleeve", "Cut 1 pair"], ("4", "Sleeve", 2, False, True, "")),
    (["Sleeve", "Cut 2 pairs"], ("", "Sleeve", 4, False, True, "")),
    (["Fold-over collar", "Cut 2"], ("", "Fold-over collar", 2, False, True, "")),
    (["Front facing, cut one on the fold of lining"], ("", "Front facing", 1, True, False, "lining")),
    (["Vorderteil", "2x zuschneiden"], ("", "Vorderteil", 2, False, True, "")),
    (["2 Rückenteil", "1x im Bruch zuschneiden"], ("2", "Rückenteil", 1, True, False, "")),
    (["Schnittteil 3", "Ärmel", "2 mal gegengleich zuschneiden"], ("3", "Ärmel", 2, False, True, "")),
    (["3 Kragen", "2x Stoff, 1x Einlage"], ("3", "Kragen", 2, False, True, "")),
    (["Beleg", "zweimal aus Einlage"], ("", "Beleg", 2, False, True, "interfacing")),
    (["Devant", "Couper 2 fois"], ("", "Devant", 2, False, True, "")),
    (["Dos", "couper 1 fois au pli"], ("", "Dos", 1, True, False, "")),
    (["Manche", "x2 en vis-à-vis"], ("", "Manche", 2, False, True, "")),
    (["Doublure devant", "couper deux fois dans la doublure"], ("", "Doublure devant", 2, False, True, "lining")),
    (["Delantero", "Cortar 2"], ("", "Delantero", 2, False, True, "")),
    (["Espalda", "cortar una vez al doblez"], ("", "Espalda", 1, True, False, "")),
    (["1 Manga", "2 veces en espejo"], ("1", "Manga", 2, False, True, "")),
    (["Voorpand", "2x knippen"], ("", "Voorpand", 2, False, True, "")),
    (["Achterpand", "1x aan de stofvouw"], ("", "Achterpand", 1, True, False, "")),
    (["Kraag", "knip 2 keer uit stof en 1 keer uit vlieseline"], ("", "Kraag", 2, False, True, "")),
]


@pytest.mark.parametrize(
    ("lines", "said"), SAID, ids=lambda value: " / ".join(value) if isinstance(value, list) else ""
)
def test_how_a_piece_is_cut_in_five_languages(lines, said):
    words = piece_words(lines)
    assert (words.number, words.name, words.cut, words.on_fold, words.mirrored, words.role) == said


@pytest.mark.parametrize(
    "lines",
    [
        ["Pocket 10 x 20 cm"],
        ["Facing cut 5 cm wide"],
        ["Fold line"],
        ["Dos"],
        ["Une pièce"],
        ["Umbruch"],
        ["pli creux"],
        ["Cutting line"],
    ],
)
def test_what_says_nothing_of_cutting_is_not_taken_for_it(lines):
    words = piece_words(lines)
    assert (words.cut, words.on_fold) == (0, False)
