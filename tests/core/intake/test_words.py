"""What the words on pieces and the names of layers say; wordings in use on patterns, common practice, no source."""

import pytest

from rowanseed.core.intake.names import piece_words, sense_of, size_of, size_rank


@pytest.mark.parametrize(
    ("lines", "number", "name", "cut", "role", "fold"),
    [
        (["1 FRONT", "CUT 2"], "1", "Front", 2, "", False),
        (["2. Back - cut 1 on fold"], "2", "Back", 1, "", True),
        (
            ["UPPER COLLAR", "Cut 1 on the fold", "Cut 1 interfacing on the fold"],
            "",
            "Upper collar",
            1,
            "interfacing",
            True,
        ),
        (["Pocket bag", "cut 4 lining"], "", "Pocket bag", 4, "lining", False),
        (["#12", "Waistband", "Cut a pair"], "12", "Waistband", 2, "", False),
        (["SLEEVE", "2 x fabric"], "", "Sleeve", 2, "", False),
        (["Piece Name: 3 Side Panel", "Quantity: 2", "Size: 10"], "3", "Side Panel", 2, "", False),
        (["Button band", "Cut two self"], "", "Button band", 2, "", False),
        (["centre front", "grain line", "lengthen or shorten here"], "", "", 0, "", False),
    ],
)
def test_words_on_a_piece(lines: list[str], number: str, name: str, cut: int, role: str, fold: bool) -> None:
    words = piece_words(lines)
    assert (words.number, words.name, words.cut, words.role, words.on_fold) == (number, name, cut, role, fold)


@pytest.mark.parametrize(
    ("name", "size"),
    [
        ("Size 12", "12"), ("12", "12"), ("size_34", "34"), ("XXL", "XXL"), ("Size M", "M"), ("EU 38", "38"), ("Größe 40", "40"),
        ("Gr. 38", "38"), ("Taille 38", "38"), ("Talla M", "M"), ("Maat 40", "40"), ("vorn_Gr_38", "38"),
        ("Taille", None), ("Grund", None),
        ("8-10", "8-10"), ("3t", "3t"), ("Layer 1", None), ("path12", None), ("cut line", None), ("background", None),
    ],
)  # fmt: skip
def test_names_that_are_sizes(name: str, size: str | None) -> None:
    assert size_of(name) == size


def test_sizes_in_their_order() -> None:
    assert sorted(["L", "XS", "2XL", "M", "S", "XL"], key=size_rank) == ["XS", "S", "M", "L", "XL", "2XL"]
    assert sorted(["10", "8", "12-14", "6"], key=size_rank) == ["6", "8", "10", "12-14"]


def test_what_layers_hold() -> None:
    assert [sense_of(n) for n in ("Seam line", "Notches", "grainline", "Place on fold", "drill holes", "darts", "Test square")] == [
        "seam", "notch", "grain", "fold", "drill", "internal", "ignore",
    ]  # fmt: skip


@pytest.mark.parametrize(
    ("names", "sense"),
    [
        (("Nahtlinie", "Nählinie", "ligne de couture", "línea de costura", "stiklijn", "seam line"), "seam"),
        (("Schnittlinie", "Ligne_de_coupe", "Línea de corte", "snijlijn", "cutting line"), "cut"),
        (("Fadenlauf", "droit fil", "hilo", "draadrichting", "grain"), "grain"),
        (("Knipse", "crans", "piquetes", "inkepingen", "notches"), "notch"),
        (("Stoffbruch", "pliure", "doblez", "stofvouw", "fold"), "fold"),
        (("Abnäher", "pinces", "pinzas", "figuurnaden", "darts"), "internal"),
        (("Testquadrat", "carré de contrôle", "cuadrado de prueba", "proefvierkant", "test square"), "ignore"),
        (("marge de couture", "Grundlinie", "Vorderteil", "Dos", "chilote", "gravel"), ""),
    ],
)
def test_layers_named_in_five_languages(names, sense) -> None:
    assert {name: sense_of(name) for name in names} == dict.fromkeys(names, sense)
