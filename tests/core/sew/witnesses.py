"""Garments that show what the library's templates and choices do, found once by looking through random ones and kept as data.

    python -m tests.core.sew.witnesses

finds them anew, where the library has got something that none of them shows.
"""

import json
import random
import sys
from dataclasses import asdict, replace
from pathlib import Path

from rowanseed.core.sew.choices import UPPER
from rowanseed.core.sew.garment import assembled
from rowanseed.core.sew.instances import operations_of
from rowanseed.core.sew.model import TOOLS, ClothTraits, SewnGarment
from rowanseed.formats.sewing import library

FILE = Path(__file__).with_suffix(".json")
LIBRARY = library()
BEGUN = (
    SewnGarment({"waist": "band", "front": "facing", "closure": "buttons", "lining": "waist"}),
    SewnGarment({"waist": "band", "closure": "lapped-zip", "hem": "blind"}),
    SewnGarment({"neck": "binding", "closure": "ties", "hem": "double"}),
)


def random_garment(rng, share=0.45):
    """A garment with so large a share of the features chosen at random, contradictions and all."""
    features = {f.name: rng.choice(f.choices)[0] for f in LIBRARY.features if rng.random() < share}
    if rng.random() < 0.35:  # a garment that begins at the waist
        features = {name: choice for name, choice in features.items() if name not in (*UPPER, "waist-seam")}
    if rng.random() < 0.2:
        features["shaping"] = "+".join(rng.sample(("darts", "pleats", "tucks"), 2))
    schools = {s.name: rng.choice(s.choices)[0] for s in LIBRARY.schools}
    traits = ("knit", "piled", "slippery", "ravels", "sheer", "loose", "fur")
    cloth = ClothTraits(rng.choice(("light", "medium", "heavy")), **{trait: rng.random() < 0.15 for trait in traits})
    return SewnGarment(features, frozenset(rng.sample(TOOLS, rng.randint(0, len(TOOLS)))), schools, cloth)


def templates_of(garment):
    """The templates that a garment's operations come from."""
    return {op.template for op in operations_of(LIBRARY, assembled(LIBRARY, garment))}


def steps_with(base, name, value):
    """A garment's operations and what they work on, with one choice changed."""
    one = replace(base, features={**base.features, name: value})
    return [(op.id, op.on) for op in operations_of(LIBRARY, assembled(LIBRARY, one))]


def shows(base, feature, value):
    """Whether a choice gives this garment other steps than the first one does."""
    return steps_with(base, feature.name, value) != steps_with(base, feature.name, feature.choices[0][0])


def kept():
    """The garments that show every template, and for each choice (feature, value) one that shows it."""
    found = json.loads(FILE.read_text(encoding="utf-8"))
    garments = [_garment(entry) for entry in found["garments"]]
    choices = {tuple(key.split("=", 1)): garments[at] for key, at in found["choices"].items()}
    return [garments[at] for at in found["templates"]], choices


def _garment(entry):
    return SewnGarment(entry["features"], frozenset(entry["tools"]), entry["schools"], ClothTraits(**entry["cloth"]))


def _entry(garment):
    plain = ClothTraits()
    cloth = {name: value for name, value in asdict(garment.cloth).items() if value != getattr(plain, name)}
    return {
        "features": dict(garment.features),
        "tools": sorted(garment.tools),
        "schools": dict(garment.schools),
        "cloth": cloth,
    }


def main(most=6000):
    """Look through random garments until everything is shown, or for so many; keep few that show it all."""
    rng = random.Random(9)
    pool = [*BEGUN, *(random_garment(rng) for _ in range(most))]
    left, chosen = {t.id for t in LIBRARY.templates}, []
    for garment in pool:
        new = templates_of(garment) & left
        if new:
            chosen.append(garment)
            left -= new
        if not left:
            break
    garments, choices = list(chosen), {}
    for feature in LIBRARY.features:
        for value, _ in feature.choices[1:]:
            witness = next((g for g in [*garments, *pool[:150]] if shows(g, feature, value)), None)
            if witness is not None:
                if witness not in garments:
                    garments.append(witness)
                choices[f"{feature.name}={value}"] = garments.index(witness)
    found = {
        "garments": [_entry(g) for g in garments],
        "templates": [garments.index(g) for g in chosen],
        "choices": choices,
    }
    FILE.write_text(json.dumps(found, separators=(",", ":"), sort_keys=True) + "\n", encoding="utf-8")
    print(len(garments), "garments;", "never shown:", sorted(left))
    return 1 if left else 0


if __name__ == "__main__":
    sys.exit(main())
