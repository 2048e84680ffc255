"""Which kind of garment pieces are filed as. Common practice, no source."""

import pytest

from rowanseed.core.intake.garment import garment_by_features, garment_by_names


@pytest.mark.parametrize(
    ("title", "pieces", "kind"),
    [
        ("Corduroy trousers", ["Front", "Back", "Waistband"], "trousers"),
        ("Sheet 3", ["Left leg front", "Leg back", "Fly facing"], "trousers"),
        ("Summer dress", ["Bodice front", "Skirt front", "Sleeve"], "dress"),
        ("a12", ["Bodice front", "Skirt front", "Skirt back"], "dress"),
        ("Panel skirt", ["Front gore", "Yoke"], "skirt"),
        ("Winter coat", ["Front", "Sleeve", "Collar"], "coat"),
        ("Blazer", ["Front", "Sleeve"], "jacket"),
        ("Work shirt", ["Front", "Yoke", "Cuff"], "top"),
        ("1", ["Piece 1", "Piece 2"], None),
    ],
)
def test_a_garment_is_known_by_its_names(title, pieces, kind):
    assert garment_by_names(title, pieces) == kind


@pytest.mark.parametrize(
    ("kind", "views", "filed"),
    [
        ("top", [{"legs": "set", "waist": "band"}], "trousers"),
        ("top", [{"waist": "band", "hem": "blind"}], "skirt"),
        ("trousers", [{"neck": "facing", "sleeve": "set-in"}], "top"),
        ("jacket", [{"collar": "notched", "sleeve": "set-in"}], "jacket"),
        ("dress", [{"neck": "facing", "waist-seam": "joined"}], "dress"),
        (
            "top",
            [{"legs": "set", "waist": "band"}, {"neck": "facing"}],
            "top",
        ),  # two views, two garments: left as it was
        ("skirt", [{}], "skirt"),
    ],
)
def test_a_described_garment_is_filed_as_what_it_is(kind, views, filed):
    assert garment_by_features(kind, views) == filed
