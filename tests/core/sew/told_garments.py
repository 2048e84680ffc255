"""Invented garments told by pieces, seams and fates, as a sewist gives them: halves on the fold, left and right cut at once."""

from rowanseed.core.pattern.fates import EdgeFate
from rowanseed.core.sew.pieces.model import PiecedGarment, SewnPiece, StackedSeam, pieced


def piece(line: str) -> SewnPiece:
    """A piece from `name unit layer cut[f] edge edge ...`; `f` is on the fold."""
    name, unit, layer, cut, *edges = line.split()
    return SewnPiece(name, unit, layer, int(cut.rstrip("f")), tuple(edges), cut.endswith("f"))


def seam(line: str) -> StackedSeam:
    """A seam from `a.x a.y = b.z`, or a stack from `+a.x -b.y +c.z`."""
    if "=" in line:
        a, b = (tuple(side.split()) for side in line.split("="))
        return StackedSeam(((a, True), (b, False)))
    return StackedSeam(tuple(((page[1:],), page[0] == "+") for page in line.split()))


def told(pieces: str, seams: str, fates: str = "", shaped: str = "") -> PiecedGarment:
    """A garment from lines of pieces, seams, `edge fate` and `edge shaping`."""
    sewn = [seam(line) for line in seams.strip().splitlines()]
    joined = {e for s in sewn for e in s.edges}
    said = {line.split()[0]: line.split()[1] for line in fates.strip().splitlines() if line.strip()}
    shapes = {line.split()[0]: line.split()[1] for line in shaped.strip().splitlines() if line.strip()}
    every = {
        e: EdgeFate("joined" if e in joined else said.get(e, "open"), shaping=(shapes[e],) if e in shapes else ())
        for e in (*said, *shapes)
    }
    return pieced([piece(line) for line in pieces.strip().splitlines()], sewn, every)


JACKET = """
front body shell 2 neck shoulder armhole side hem cf
back body shell 1f neck shoulder armhole side hem
sleeve sleeve shell 2 cap-front under-front wrist under-back cap-back
front-facing facing inner 2 neck shoulder inner hem cf
back-facing facing inner 1f neck shoulder outer
lining-front body lining 2 inner shoulder armhole side gap hem
lining-back body lining 1f neck shoulder armhole side gap hem
lining-sleeve sleeve lining 2 cap-front under-front wrist under-back cap-back
"""
JACKET_SEAMS = """
front.shoulder = back.shoulder
front.side = back.side
sleeve.under-front = sleeve.under-back
sleeve.cap-front sleeve.cap-back = front.armhole back.armhole
lining-front.shoulder = lining-back.shoulder
lining-front.side = lining-back.side
lining-sleeve.under-front = lining-sleeve.under-back
lining-sleeve.cap-front lining-sleeve.cap-back = lining-front.armhole lining-back.armhole
front-facing.shoulder = back-facing.shoulder
lining-front.inner = front-facing.inner
lining-back.neck = back-facing.outer
front-facing.neck back-facing.neck = front.neck back.neck
front.cf = front-facing.cf
front.hem back.hem = front-facing.hem lining-front.hem lining-back.hem
sleeve.wrist = lining-sleeve.wrist
"""
SKIRT = """
front skirt shell 1f waist side hem
back skirt shell 2 waist side hem centre-back zip
band waistband shell 1 low end-a top end-b
"""
SKIRT_SEAMS = """
front.side = back.side
back.centre-back = back.centre-back
back.zip = back.zip
+band.low +front.waist +back.waist -band.top
"""
SKIRT_FATES = "front.hem hem\nback.hem hem\nband.end-a enclosed\nband.end-b enclosed"
GARMENTS: dict[str, PiecedGarment] = {
    "jacket turned through a side": told(
        JACKET, JACKET_SEAMS + "lining-front.gap = lining-back.gap", shaped="sleeve.cap-front ease\nsleeve.cap-back ease"),
    "jacket without a gap": told(JACKET.replace(" gap", ""), JACKET_SEAMS),
    "skirt": told(SKIRT, SKIRT_SEAMS, SKIRT_FATES, "front.waist dart\nback.waist dart"),
    "lined skirt": told(
        SKIRT + "lining-front skirt lining 1f waist side hem\nlining-back skirt lining 2 waist side hem centre-back zip",
        SKIRT_SEAMS.replace("+front.waist +back.waist", "-lining-front.waist -lining-back.waist +front.waist +back.waist")
        + "lining-front.side = lining-back.side\nlining-back.centre-back = lining-back.centre-back",
        SKIRT_FATES + "\nlining-front.hem hem\nlining-back.hem hem\nlining-back.zip fold",
    ),
    "trousers": told(
        "front leg shell 2 waist side hem inseam crotch\nback leg shell 2 waist side hem inseam crotch",
        "front.side = back.side\nfront.inseam = back.inseam\nfront.crotch = front.crotch\nback.crotch = back.crotch",
        "front.waist casing\nback.waist casing\nfront.hem hem\nback.hem hem",
    ),
    "shirt": told(
        """
front body shell 2 neck shoulder armhole side hem front-edge
back body shell 1f upper armhole side hem
yoke yoke shell 2f neck front armhole low
sleeve sleeve shell 2 cap under-front wrist under-back
cuff cuff shell 4 wrist end-a outer end-b
collar collar shell 2f outer end neck
stand stand shell 2f top end neck
""",
        """
yoke.low = back.upper
yoke.front = front.shoulder
sleeve.cap = front.armhole yoke.armhole back.armhole
front.side = back.side
sleeve.under-front = sleeve.under-back
collar.outer = collar.outer
collar.end = collar.end
stand.end = stand.end
+stand.top -collar.neck -stand.top
+stand.neck +front.neck +yoke.neck -stand.neck
cuff.outer = cuff.outer
cuff.end-a = cuff.end-a
cuff.end-b = cuff.end-b
+cuff.wrist +sleeve.wrist -cuff.wrist
""",
        "front.hem hem\nback.hem hem\nfront.front-edge fold",
        "sleeve.wrist pleat",
    ),
    "vest edge to edge": told(
        """
front body shell 2 neck shoulder armhole side hem cf
back body shell 1f neck shoulder armhole side hem
lining-front body lining 2 neck shoulder armhole side gap hem cf
lining-back body lining 1f neck shoulder armhole side gap hem
""",
        """
front.shoulder = back.shoulder
front.side = back.side
lining-front.shoulder = lining-back.shoulder
lining-front.side = lining-back.side
lining-front.gap = lining-back.gap
lining-front.neck lining-back.neck = front.neck back.neck
lining-front.cf = front.cf
lining-front.hem lining-back.hem = front.hem back.hem
lining-front.armhole lining-back.armhole = front.armhole back.armhole
""",
    ),
    "T-shirt": told(
        """
front body shell 1f neck shoulder armhole side hem
back body shell 1f neck shoulder armhole side hem
sleeve sleeve shell 2 cap under-front wrist under-back
ring band shell 1 low end-a top end-b
""",
        """
front.shoulder = back.shoulder
front.side = back.side
sleeve.cap = front.armhole back.armhole
sleeve.under-front = sleeve.under-back
ring.end-a = ring.end-b
+front.neck +back.neck -ring.low +ring.top
""",
        "front.hem hem\nback.hem hem\nsleeve.wrist hem",
    ),
    "dress with facings": told(
        """
bodice-front bodice shell 1f neck shoulder armhole side waist
bodice-back bodice shell 2 neck shoulder armhole side waist zip
skirt-front skirt shell 1f waist side hem
skirt-back skirt shell 2 waist side hem centre-back zip
facing-front facing inner 1f neck shoulder outer
facing-back facing inner 2 neck shoulder outer centre-back
""",
        """
bodice-front.shoulder = bodice-back.shoulder
bodice-front.side = bodice-back.side
skirt-front.side = skirt-back.side
skirt-back.centre-back = skirt-back.centre-back
skirt-front.waist skirt-back.waist = bodice-front.waist bodice-back.waist
facing-front.shoulder = facing-back.shoulder
facing-front.neck facing-back.neck = bodice-front.neck bodice-back.neck
bodice-back.zip skirt-back.zip = bodice-back.zip skirt-back.zip
""",
        """
skirt-front.hem hem
skirt-back.hem hem
bodice-front.armhole bind
bodice-back.armhole bind
facing-front.outer hem
facing-back.outer hem
facing-back.centre-back fold
""",
        "skirt-front.waist gather\nskirt-back.waist gather\nbodice-front.waist dart",
    ),
    "apron with ties": told(
        """
apron skirt shell 1 waist left hem right
band waistband shell 1 low end-a top end-b
tie tie shell 2 long-a end long-b root
""",
        """
tie.long-a = tie.long-b
+band.low +apron.waist -band.top
""",
        "apron.left hem\napron.right hem\napron.hem hem\nband.end-a enclosed\nband.end-b enclosed\ntie.end raw\ntie.root raw",
        "apron.waist gather",
    ),
    "strapless, lined": told(
        """
front bodice shell 1f upper side hem
back bodice shell 2 upper side hem zip
lining-front bodice lining 1f upper side hem
lining-back bodice lining 2 upper side hem zip
""",
        """
front.side = back.side
lining-front.side = lining-back.side
front.upper back.upper = lining-front.upper lining-back.upper
""",
        "front.hem hem\nback.hem hem\nlining-front.hem hem\nlining-back.hem hem\nlining-back.zip fold",
    ),
    "raglan top, faced":told("""
front body shell 1f neck raglan side hem
back body shell 1f neck raglan side hem
sleeve sleeve shell 2 neck raglan-front under-front wrist under-back raglan-back
facing facing inner 1 neck end-a outer end-b
""","""
sleeve.raglan-front = front.raglan
sleeve.raglan-back = back.raglan
front.side = back.side
sleeve.under-front = sleeve.under-back
facing.end-a = facing.end-b
facing.neck = front.neck sleeve.neck back.neck
""","front.hem hem\nback.hem hem\nsleeve.wrist casing\nfacing.outer hem"),
    "cut-on sleeves, bias neck":told("""
front body shell 1f neck shoulder wrist underarm side hem
back body shell 1f neck shoulder wrist underarm side hem
""",
"""
front.shoulder = back.shoulder
front.underarm = back.underarm
front.side = back.side
""",
"""
front.neck bind
back.neck bind
front.wrist hem
back.wrist hem
front.hem hem
back.hem hem
"""),
    "princess dress lined bodice":told("""
front bodice shell 1f neck shoulder armhole princess waist
front-side bodice shell 2 princess armhole side waist
back bodice shell 2 neck shoulder armhole side waist zip
skirt skirt shell 1f waist side hem
skirt-back skirt shell 2 waist side hem centre-back zip
lining-front bodice lining 1f neck shoulder armhole princess waist
lining-front-side bodice lining 2 princess armhole side waist
lining-back bodice lining 2 neck shoulder armhole side waist zip
""","""
front.princess = front-side.princess
front.shoulder = back.shoulder
front-side.side = back.side
skirt.side = skirt-back.side
skirt-back.centre-back = skirt-back.centre-back
front.waist front-side.waist back.waist = skirt.waist skirt-back.waist
lining-front.princess = lining-front-side.princess
lining-front.shoulder = lining-back.shoulder
lining-front-side.side = lining-back.side
lining-front.neck lining-back.neck = front.neck back.neck
lining-front.armhole lining-front-side.armhole lining-back.armhole = front.armhole front-side.armhole back.armhole
""",
"""
skirt.hem hem
skirt-back.hem hem
lining-front.waist fold
lining-front-side.waist fold
lining-back.waist fold
lining-back.zip fold
""",
"""
skirt.waist gather
"""),
    "hooded jacket with pockets":told("""
front body shell 2 neck shoulder armhole side hem zip
back body shell 1f neck shoulder armhole side hem
sleeve sleeve shell 2 cap under-front wrist under-back
hood hood shell 2 neck front crown
cuff cuff shell 2 wrist end-a fold-edge end-b
pocket pocket shell 2 top side-a bottom side-b
""","""
front.shoulder = back.shoulder
front.side = back.side
sleeve.cap = front.armhole back.armhole
sleeve.under-front = sleeve.under-back
hood.crown = hood.crown
hood.neck = front.neck back.neck
cuff.end-a = cuff.end-b
+sleeve.wrist -cuff.wrist +cuff.fold-edge
""","front.hem hem\nback.hem hem\nhood.front casing\npocket.top hem\npocket.side-a fold\npocket.side-b fold\npocket.bottom fold"),
    "trousers with fly, band, underlined":told("""
front leg shell 2 waist side hem inseam crotch fly
back leg shell 2 waist side hem inseam crotch
band waistband shell 2 low end-a top end-b
front-underlining leg underlining 2 waist side hem inseam crotch fly
band-interfacing waistband interfacing 1 low end-a top end-b
""","""
front.side = back.side
front.inseam = back.inseam
front.crotch = front.crotch
back.crotch = back.crotch
band.top = band.top
band.end-a = band.end-a
band.end-b = band.end-b
band.low = front.waist back.waist
""","front.hem hem\nback.hem hem\nfront.fly face","back.waist dart"),
    "pinafore lined, straps cut on":told("""
front body shell 1f neck strap armhole side hem
back body shell 1f neck strap armhole side hem
lining-front body lining 1f neck strap armhole side hem
lining-back body lining 1f neck strap armhole side hem
""","""
front.side = back.side
lining-front.side = lining-back.side
lining-front.neck lining-back.neck = front.neck back.neck
lining-front.strap = front.strap
lining-back.strap = back.strap
lining-front.armhole lining-back.armhole = front.armhole back.armhole
""","front.hem hem\nback.hem hem\nlining-front.hem hem\nlining-back.hem hem"),
    "tank top, lined, closed all round": told(
        """
front body shell 1f neck shoulder armhole side hem
back body shell 1f neck shoulder armhole side hem
lining-front body lining 1f neck shoulder armhole side hem
lining-back body lining 1f neck shoulder armhole side hem
""",
        """
front.shoulder = back.shoulder
front.side = back.side
lining-front.shoulder = lining-back.shoulder
lining-front.side = lining-back.side
lining-front.neck lining-back.neck = front.neck back.neck
lining-front.armhole lining-back.armhole = front.armhole back.armhole
""",
        "front.hem hem\nback.hem hem\nlining-front.hem hem\nlining-back.hem hem",
    ),
}  # fmt: skip
