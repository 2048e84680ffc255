"""What a practised eye misses first in an order: stays before handling, fusing, strips over pressed seams, linings round a vent.

Common practice, no published source, where a case names none.
"""

import pytest

from rowanseed.core.sew.checker import check_order
from rowanseed.core.sew.garment import assembled
from rowanseed.core.sew.model import ClothTraits, SewnGarment
from rowanseed.core.sew.numbers import SUMS, Facts
from rowanseed.core.sew.order import sequence
from rowanseed.core.sew.settings import machine_settings
from tests.core.sew.test_library import LIBRARY

OVERLOCKER = frozenset({"overlocker"})
WOVEN = ClothTraits()
KNIT = ClothTraits(knit=True)
PILE = ClothTraits("heavy", piled=True)
JACKET = {
    "collar": "notched", "front": "facing", "closure": "buttons", "sleeve": "two-piece", "shoulder-pads": "sewn",
    "interfacing": "fusible", "seam-finish": "none", "vent": "vent",
}  # fmt: skip
SKIRT = {"waist": "band", "closure": "lapped-zip", "hem": "blind"}
SHIRT = {
    "collar": "two-piece", "yoke": "double", "sleeve": "set-in", "sleeve-vent": "placket", "cuff": "band", "front": "band",
    "interfacing": "fusible",
}  # fmt: skip
DRESS = {"waist-seam": "joined", "neck": "facing", "closure": "invisible-zip"}
FLY = {"legs": "trousers", "closure": "fly", "waist": "band", "interfacing": "fusible"}
SHEATH = {"panels": "princess", "neck": "facing", "armhole": "lined", "closure": "invisible-zip", "lining": "sewn-in"}
COAT = {"collar": "one-piece", "front": "facing", "sleeve": "raglan", "seam-finish": "hong-kong", "hem": "bound"}
CAPE = {"armhole": "cape", "collar": "hooded", "front": "facing", "closure": "hook", "interfacing": "fusible"}

# The garment, and a chain of steps in the order in which they are done.
CHAINS = [
    (SKIRT, WOVEN, "staystitch-waist finish-raw-edges sew-side-seams"),
    (FLY, WOVEN, "test-fuse fuse-fly-facing sew-fly-facing"),
    (SHIRT, WOVEN, "give-sleeve-mark reinforce-sleeve-slit cut-sleeve-slit sew-sleeve-placket pleat-sleeve-end"),
    (SHIRT, WOVEN, "sew-sleeve-placket press-sleeve-placket set-sleeves-flat"),
    (SHIRT, WOVEN, "join-collar-stand clip-stand attach-collar close-stand"),
    (SHIRT | {"pocket": "patch"}, WOVEN, "make-patch-pockets sew-patch-pockets sew-shoulders set-sleeves-flat"),
    (JACKET | {"lining": "bagged"}, WOVEN, "fuse-interfacing fuse-lapels press-roll-line sew-shoulders"),
    (JACKET | {"lining": "bagged"}, WOVEN, "sew-side-seams press-side-seams interface-hem press-lined-hem"),
    (JACKET | {"lining": "bagged"}, WOVEN, "sew-shoulder-pads try-length-bagged press-lined-hem"),
    (JACKET | {"lining": "bagged"}, WOVEN, "join-lining-facing press-lining-facing join-lining-vent bag-lining"),
    (JACKET | {"lining": "bagged"}, WOVEN, "tack-vent try-length-bagged mitre-vent join-lining-vent turn-bagged-lining"),
    (JACKET | {"lining": "sewn-in"}, WOVEN, "press-back-sleeve-seam fuse-sleeve-hem press-lined-wrist"),
    (JACKET | {"lining": "sewn-in"}, WOVEN, "sew-shoulder-pads try-length mark-hem"),
    (JACKET | {"lining": "sewn-in"}, WOVEN, "mitre-vent hand-hem fell-lining-hem fell-sewn-lining-vent"),
    ({"lining": "edge-to-edge", "straps": "buttoned", "shaping": "darts"}, WOVEN,
     "press-darts@lining.body sew-first-side@lining.body"),
    ({"lining": "free", "straps": "sewn", "neck": "facing"}, WOVEN, "sew-side-seams@lining.body baste-free-armhole face-armholes"),
    ({"neck": "combined-facing", "closure": "centred-zip"}, WOVEN,
     "clip-neck turn-combined-facing understitch-neck-facing press-neck"),
    ({"shaping": "released-tucks", "neck": "facing"}, WOVEN, "release-tucks press-tucks sew-shoulders"),
    ({"sleeve": "raglan", "neck": "binding", "cuff": "shirred"}, WOVEN, "sample-shirring hem-shirred-sleeve shirr-sleeve"),
    ({"neck": "facing", "neck-shape": "slit", "vent": "slit"}, WOVEN, "press-side-seams sew-slit-edges sew-hem"),
    ({"straps": "strapless", "lining": "sewn-in"}, WOVEN, "clip-lined-edges understitch-lining turn-lined-edges"),
    ({"closure": "fly", "waist": "band", "panels": "straight"}, WOVEN, "sew-fly-seam insert-fly-zip topstitch-fly sew-side-seams"),
    ({"yoke": "plain", "gathers": "yoke", "neck": "facing"}, WOVEN, "gather-yoke-edge sew-yoke overlock-yoke press-yoke"),
    (JACKET | {"collar": "none"}, WOVEN, "sew-front-facings turn-front-facings press-front-facings set-two-piece-sleeves"),
    ({"collar": "one-piece", "closure": "placket"}, WOVEN, "close-collar sew-placket-buttonholes"),
    (
        {"neck": "facing", "armhole": "binding"},
        WOVEN,
        "trim-armhole-binding face-armholes-flat press-armhole-binding close-armhole-binding",
    ),
    (
        {"neck": "binding", "sleeve": "raglan", "cuff": "bound"},
        WOVEN,
        "trim-sleeve-binding bind-sleeve-end press-sleeve-binding close-sleeve-binding",
    ),
    (
        {"collar": "one-piece", "closure": "separating-zip", "front": "facing", "sleeve": "raglan", "hem": "ribbed"},
        KNIT,
        "fold-open-rib sew-hem-rib insert-separating-zip sew-front-facings turn-front-facings topstitch-zip-edges",
    ),
    ({"waist": "band", "closure": "ties", "front": "facing"}, WOVEN, "attach-ties close-waistband"),
    (COAT | {"lining": "sewn-in", "sleeve": "set-in"}, WOVEN, "press-lining-facing fell-lining-hem"),
    ({"lining": "bagged", "closure": "buttons"}, WOVEN, "turn-bagged-lining understitch-lining press-lined-edges sew-side-seams"),
    (
        {"lining": "bagged", "armhole": "binding", "straps": "sewn"},
        WOVEN,
        "sew-side-seams press-side-seams baste-lining-armhole face-armholes-flat press-armhole-binding close-armhole-binding",
    ),
    (SHIRT | {"waist-seam": "joined", "gathers": "waist"}, WOVEN, "topstitch-front-bands close-stand try-length mark-hem"),
    (COAT | {"pocket": "slant"}, WOVEN, "sew-slant-facing understitch-slant press-slant-edge close-slant-bags sew-raglan-seams"),
    (JACKET | {"lining": "bagged"}, WOVEN, "pleat-lining press-lining-pleat sew-shoulders@lining.body"),
    (JACKET | {"lining": "sewn-in"}, WOVEN, "press-collar-notch tack-collar-seams join-lining-facing"),
    ({"neck": "facing", "shaping": "darts", "pocket": "patch"}, WOVEN, "press-darts sew-patch-pockets sew-shoulders"),
    (
        {"neck": "band", "closure": "separating-zip", "sleeve": "raglan", "lining": "bagged"},
        WOVEN,
        "press-raglan-seams attach-free-lining sew-neck-band",
    ),
    (DRESS, WOVEN, "press-shoulders try-waist join-waist-seam"),
    ({"neck": "facing", "closure": "invisible-zip"}, WOVEN, "staystitch-neck finish-raw-edges insert-invisible-zip close-zip-seam"),
    (JACKET, WOVEN, "join-notched-collar turn-notched press-collar-notch set-two-piece-sleeves"),
    (COAT, WOVEN, "press-facing finish-facing-edge"),
    (DRESS | {"gathers": "cartridge"}, WOVEN, "press-side-seams@skirt turn-cartridge-edge draw-cartridge-rows"),
    (COAT, WOVEN, "try-length trim-bound-hem bind-hem press-hem-binding close-hem-binding"),
    (DRESS | {"gathers": "waist"}, WOVEN, "sew-side-seams@skirt gather-waist draw-up-gathers join-waist-seam"),
    ({"lining": "bagged", "closure": "buttons", "pocket": "welt"}, WOVEN, "sew-welt-pockets tack-pockets bag-lining"),
    (SHEATH, WOVEN, "sew-princess-seams press-princess-seams sew-side-seams press-side-seams"),
    (SHEATH, WOVEN, "sew-neck-facing clip-neck join-lining-edges turn-lined-edges try-length"),
    ({"legs": "trousers", "waist": "casing", "pocket": "side-seam"}, WOVEN, "sew-side-seams close-side-pockets sew-crotch"),
    ({"shirring": "panel", "straps": "sewn"}, WOVEN, "sample-shirring hem-shirred-edge sew-shirring"),
    ({"neck": "facing", "wearer": "child"}, WOVEN, "check-child-rules mark-pieces"),
    ({"neck": "facing", "sleeve": "dolman"}, WOVEN, "sew-side-seams stay-underarm clip-underarm press-side-seams"),
    (SKIRT | {"shaping": "darts", "lining": "waist"}, WOVEN, "staystitch-waist sew-darts press-darts sew-side-seams"),
    (SKIRT | {"shaping": "darts", "lining": "waist"}, WOVEN, "insert-lapped-zip unpick-basting fell-waist-lining-zip"),
    (SKIRT | {"vent": "vent"}, WOVEN, "fuse-vent sew-side-seams mark-hem trim-hem-allowance overlock-hem-edge press-hem"),
    (DRESS | {"lining": "sewn-in", "sleeve": "set-in"}, WOVEN, "press-lining-zip-seam fell-lining-zip"),
    (SHEATH, WOVEN, "close-zip-seam press-zip-seam fell-lining-zip"),
    (DRESS, WOVEN, "close-zip-seam press-zip-seam try-length press-hem"),
    (JACKET | {"lining": "sewn-in", "interfacing": "sewn"}, WOVEN, "press-roll-line sew-side-seams press-collar-notch try-length"),
    (JACKET | {"pocket": "double-welt", "buttonhole": "bound"}, WOVEN, "sew-double-welts sew-shoulders set-two-piece-sleeves"),
    (JACKET | {"buttonhole": "bound"}, WOVEN, "sew-bound-buttonholes sew-side-seams"),
    (JACKET | {"buttonhole": "bound"}, WOVEN, "sew-bound-buttonholes join-notched-collar"),
    (FLY | {"pocket": "double-welt"}, WOVEN, "sew-double-welts sew-side-seams sew-crotch attach-waistband"),
    (SHIRT | {"waist-seam": "joined", "cuff": "hem"}, WOVEN, "join-waist-seam sew-front-bands attach-collar"),
    ({"collar": "hooded", "front": "facing", "sleeve": "set-in", "lining": "free"}, WOVEN, "press-side-seams join-lining-facing"),
    (DRESS | {"sleeve": "set-in", "cuff": "hem"}, WOVEN, "hem-sleeve-early sew-side-seams@bodice"),
    (DRESS | {"sleeve": "set-in", "cuff": "hem", "lining": "sewn-in", "lining-sleeves": "none"}, WOVEN,
     "hem-sleeve-early sew-sleeve-seams press-sleeve-seams set-sleeves-round"),
    (SHEATH | {"hem": "hand"}, WOVEN, "press-hem hand-hem hem-lining"),
    (JACKET | {"panels": "princess", "pocket": "welt-flap"}, WOVEN, "press-princess-seams sew-flap-pockets sew-side-seams"),
    (JACKET | {"pocket": "welt-flap"}, WOVEN, "make-flaps sew-flap-pockets tack-pockets sew-side-seams"),
    (JACKET | {"lining": "bagged"}, WOVEN, "press-collar-notch join-lining-facing"),
    (FLY | {"seam-finish": "flat-felled"}, WOVEN, "sew-side-seams fell-side-seams press-side-seams sew-inseams"),
    (FLY | {"yoke": "plain", "seam-finish": "flat-felled"}, WOVEN,
     "sew-yoke fell-yoke sew-side-seams sew-crotch attach-waistband"),
    (FLY | {"band-closure": "button"}, WOVEN,
     "attach-waistband close-waistband sew-buttonholes cut-buttonholes sew-buttons"),
    (SHIRT | {"cuff": "gathered-band", "sleeve-vent": "continuous-lap"}, WOVEN,
     "give-sleeve-mark sew-continuous-lap gather-sleeve-end sew-gathered-cuffs close-cuffs sew-buttonholes"),
    ({"neck": "facing", "sleeve": "dolman", "cuff": "band"}, WOVEN, "make-cuffs sew-cuffs press-cuffs close-cuffs"),
    (SHIRT | {"yoke": "plain", "yoke-at": "both", "seam-finish": "flat-felled"}, WOVEN,
     "sew-yoke fell-yoke press-yoke sew-shoulders"),
    ({"front": "facing", "closure": "buttons", "lining": "bagged"}, WOVEN,
     "press-lining-facing sew-front-facings clip-neck bag-lining turn-bagged-lining press-lined-edges sew-side-seams"),
    ({"front": "facing", "closure": "buttons", "lining": "bagged"}, WOVEN,
     "sew-side-seams press-side-seams close-bagged-gap sew-buttonholes"),
    ({"legs": "trousers", "waist": "casing", "pocket": "side-seam", "seam-finish": "french"}, WOVEN,
     "sew-side-pocket-bags french-side-seams close-side-pockets sew-inseams"),
    (SKIRT | {"closure": "centred-zip"}, WOVEN, "fuse-zip-edge sew-zip-seam baste-zip insert-centred-zip"),
    (DRESS | {"lining": "sewn-in", "sleeve": "set-in", "shaping": "pleats"}, WOVEN,
     "sew-side-seams@lining.skirt join-waist-seam@lining.skirt join-lining-facing sew-neck-facing"),
    (FLY | {"shaping": "pleats"}, WOVEN,
     "baste-pleats press-pleats sew-side-seams"),
    ({"straps": "buttoned", "closure": "buttons", "legs": "trousers", "waist-seam": "joined"}, WOVEN,
     "make-straps attach-straps sew-neck-facing clip-neck turn-neck-facing"),
    (COAT | {"pocket": "welt"}, WOVEN, "sew-welt-pockets tack-pockets sew-raglan-seams sew-side-seams"),
    ({"collar": "hooded", "front": "facing", "armhole": "lined", "lining": "sewn-in"}, WOVEN,
     "join-lining-facing sew-front-facings join-lining-edges turn-front-facings sew-side-seams"),
    ({"straps": "buttoned", "closure": "buttons", "neck": "facing"}, WOVEN, "staystitch-neck attach-straps sew-neck-facing"),
    ({"waist": "yoke", "closure": "exposed-zip", "hem": "circular", "lining": "free"}, WOVEN,
     "sew-hip-yoke-sides press-hip-yoke-sides join-hip-yoke insert-exposed-zip face-hip-yoke turn-hip-yoke hang try-length"),
    ({"waist": "facing", "closure": "lapped-zip", "lining": "waist"}, WOVEN,
     "insert-lapped-zip fell-waist-lining-zip fell-facing-zip sew-hook"),
    ({"neck": "combined-facing", "closure": "centred-zip"}, WOVEN,
     "turn-combined-facing press-neck insert-centred-zip unpick-basting fell-facing-zip sew-hook"),
    ({"neck": "facing", "neck-shape": "slit", "sleeve": "raglan"}, WOVEN,
     "sew-neck-facing face-slit cut-slit understitch-neck-facing turn-neck-facing"),
    ({"neck": "binding", "neck-shape": "slit"}, WOVEN, "face-slit cut-slit turn-slit bind-neck"),
    ({"sleeve": "dolman-gusset", "neck": "facing"}, WOVEN,
     "stay-gusset cut-gusset sew-gussets press-gussets sew-side-seams"),
    ({"sleeve": "gathered", "cuff": "shirred", "neck": "facing"}, WOVEN, "hem-shirred-sleeve shirr-sleeve set-sleeves-flat"),
    (SKIRT | {"seam-finish": "hong-kong"}, WOVEN, "cut-binding trim-hem-allowance bind-hem-edge press-hem blind-hem"),
    (JACKET | {"waist-seam": "joined", "lining": "sewn-in"}, WOVEN,
     "join-waist-seam@lining.skirt fell-lining-hem"),
    (JACKET | {"waist-seam": "joined", "panels": "princess", "hem": "hand"}, WOVEN,
     "press-straight-panels interface-hem press-hem"),
    (JACKET | {"interlining": "basted", "sleeve": "raglan"}, WOVEN, "baste-interlining trim-interlining sew-raglan-seams"),
    (JACKET | {"back-stay": "sewn", "sleeve": "raglan"}, WOVEN, "cut-back-stay sew-raglan-seams"),
    ({"closure": "buttons", "collar": "one-piece", "sleeve": "set-in"}, WOVEN,
     "sew-front-facings turn-front-facings sew-buttonholes"),
    ({"front": "facing", "closure": "buttons", "waist": "band", "lining": "waist"}, WOVEN,
     "sew-front-facings turn-front-facings attach-waistband close-waistband hem-lining fell-lining-fronts"),
    ({"front": "band", "closure": "buttons", "waist": "band", "lining": "waist"}, WOVEN,
     "baste-lining-fronts sew-front-bands topstitch-front-bands attach-waistband sew-buttonholes"),
    (SHIRT | {"sleeve-vent": "none", "closure": "buttons"}, WOVEN, "make-cuffs sew-cuffs close-cuffs"),
    (DRESS | {"neck": "facing-lining", "lining": "sewn-in", "closure": "lapped-zip"}, WOVEN,
     "join-lining-facing sew-neck-facing join-lining-edges turn-lined-edges sew-side-seams@bodice insert-lapped-zip"),
    ({"neck": "band", "closure": "placket", "sleeve": "set-in"}, WOVEN, "fold-open-neck-band sew-neck-band"),
    ({"neck": "band", "closure": "placket", "sleeve": "set-in"}, WOVEN, "press-placket sew-neck-band"),
    (FLY | {"lining": "waist"}, WOVEN, "topstitch-fly sew-crotch attach-waistband close-waistband fell-lining-fly"),
    (SKIRT | {"vent": "kick-pleat", "lining": "waist"}, WOVEN, "press-lining-zip-seam open-lining-pleat"),
    (DRESS | {"gathers": "overlocked", "panels": "straight"}, WOVEN,
     "press-straight-panels@skirt overlock-gathers join-waist-seam"),
    ({"straps": "sewn", "closure": "ties", "waist-seam": "joined"}, WOVEN, "make-ties attach-ties sew-side-seams@bodice"),
    ({"legs": "trousers", "waist": "casing"}, PILE, "finish-raw-edges baste-piled-seams sew-side-seams"),
    (JACKET | {"seam-finish": "hong-kong"}, WOVEN, "join-notched-collar press-collar-notch tack-facing"),
    ({"legs": "trousers", "waist": "casing"}, PILE, "tuck-pile baste-piled-seams"),
    ({"straps": "buttoned", "closure": "buttons", "lining": "edge-to-edge", "decoration": "stitching"}, WOVEN,
     "sew-decorative attach-straps join-edge-to-edge"),
    (CAPE | {"lining": "bagged"}, WOVEN,
     "turn-hood attach-hood sew-front-facings turn-front-facings join-lining-facing bag-lining turn-bagged-lining"),
    (CAPE | {"seam-finish": "bound", "hem": "single"}, WOVEN, "sew-side-seams press-side-seams attach-hood bind-hem-edge sew-hem"),
    ({"front": "band", "neck": "facing", "sleeve": "set-in", "decoration": "piping"}, WOVEN,
     "press-shoulders baste-piping sew-neck-facing"),
    ({"front": "facing", "closure": "buttons", "armhole": "facing", "lining": "free", "waist-seam": "joined"}, WOVEN,
     "join-waist-seam@lining.skirt join-lining-facing baste-free-armhole face-armholes"),
    (SKIRT | {"waist": "yoke", "shaping": "box-pleats", "zip-at": "side", "lining": "waist"}, WOVEN,
     "baste-box-pleats@lining.skirt press-pleats@lining.skirt attach-waist-lining join-hip-yoke insert-lapped-zip face-hip-yoke"),
    ({"neck": "binding", "closure": "ties", "opening-at": "back", "sleeve": "raglan"}, WOVEN,
     "attach-ties sew-front-facings turn-front-facings"),
    ({"neck": "casing", "sleeve": "raglan", "cuff": "elastic"}, WOVEN, "press-raglan-seams fold-neck-casing sew-neck-casing"),
    ({"neck": "band", "sleeve": "set-in", "waist-seam": "joined", "waist": "elastic-sewn", "hem": "twin-needle"}, KNIT,
     "press-waist-seam shirr-waist try-length"),
    ({"neck": "facing", "waist-seam": "joined", "waist": "casing"}, WOVEN,
     "press-waist-seam sew-casing thread-elastic close-casing try-length"),
    ({"neck": "binding", "front": "binding", "closure": "ties", "hem": "bound", "lining": "flat"}, WOVEN,
     "attach-ties bind-front-edges close-front-binding bind-neck close-neck-binding"),
    ({"neck": "binding", "front": "binding", "closure": "snaps", "sleeve": "set-in", "lining": "free"}, WOVEN,
     "baste-lining-fronts trim-front-binding bind-front-edges close-front-binding try-length"),
    ({"neck": "combined-facing", "straps": "buttoned", "closure": "buttons", "waist-seam": "joined"}, WOVEN,
     "make-straps sew-buttonholes cut-buttonholes"),
    ({"neck": "combined-facing", "straps": "buttoned", "closure": "buttons", "waist-seam": "joined"}, WOVEN,
     "press-neck sew-buttons"),
    ({"straps": "sewn", "boning": "channels", "lining": "sewn-in", "waist-seam": "joined", "closure": "invisible-zip",
      "waist-stay": "ribbon"}, WOVEN, "join-waist-seam overlock-waist-seam press-waist-seam sew-waist-stay"),
    ({"collar": "notched", "lining": "free", "vent": "vent", "closure": "hook", "hem": "hand"}, WOVEN,
     "press-vent press-hem mitre-vent"),
    ({"legs": "trousers", "waist-seam": "joined", "neck": "facing", "closure": "centred-zip"}, WOVEN,
     "join-waist-seam sew-crotch baste-zip press-zip-opening insert-centred-zip unpick-basting"),
    ({"legs": "trousers", "waist": "band", "closure": "lapped-zip"}, WOVEN,
     "sew-crotch baste-zip press-zip-opening insert-lapped-zip attach-waistband"),
    (JACKET | {"sleeve": "two-piece", "lining": "free", "lining-sleeves": "none", "panels": "princess"}, WOVEN,
     "press-princess-seams@lining.body join-lining-facing baste-free-armhole set-two-piece-sleeves"),
    ({"legs": "trousers", "waist": "casing", "hem": "casing"}, WOVEN, "press-inseams fold-hem-casing sew-hem-casing"),
    ({"collar": "one-piece", "front": "band", "closure": "buttons", "panels": "straight", "pocket": "patch-flap+welt"}, WOVEN,
     "press-straight-panels sew-flap-patches sew-patch-flaps"),
    ({"collar": "one-piece", "front": "band", "closure": "buttons", "panels": "straight", "pocket": "patch+welt"}, WOVEN,
     "press-straight-panels sew-welt-pockets"),
    ({"straps": "sewn", "panels": "princess", "neck": "facing-lining", "lining": "sewn-in", "closure": "invisible-zip"}, WOVEN,
     "press-princess-seams sew-neck-facing"),
    ({"collar": "one-piece", "front": "band", "closure": "buttons", "sleeve": "gathered"}, WOVEN,
     "close-collar sew-buttonholes"),
    ({"collar": "one-piece", "front": "band", "closure": "snaps", "sleeve": "gathered"}, WOVEN, "close-collar try-length"),
    ({"legs": "trousers", "waist": "facing", "closure": "invisible-zip", "zip-at": "side", "shaping": "darts",
      "trouser-crease": "pressed"}, WOVEN, "press-darts crease-legs"),
    ({"legs": "trousers", "waist": "facing", "closure": "invisible-zip", "zip-at": "side", "shaping": "darts"}, WOVEN,
     "press-darts insert-invisible-zip"),
    ({"collar": "one-piece", "closure": "invisible-zip", "waist-seam": "joined", "sleeve": "gathered", "lining": "free",
      "lining-sleeves": "none"}, WOVEN,
     "join-waist-seam@lining.skirt press-waist-seam@lining.skirt baste-free-armhole set-sleeves-round"),
    ({"legs": "trousers", "waist-seam": "joined", "straps": "buttoned", "neck": "combined-facing"}, WOVEN,
     "make-straps sew-buttonholes cut-buttonholes sew-buttons"),
    ({"straps": "buttoned", "neck": "facing", "closure": "invisible-zip", "waist-seam": "joined"}, WOVEN,
     "make-straps sew-buttonholes sew-buttons"),
    ({"neck-shape": "v", "armhole": "lined", "closure": "invisible-zip", "lining": "sewn-in"}, WOVEN,
     "join-lining-edges clip-lined-edges clip-v-lined turn-lined-edges"),
    ({"neck-shape": "square", "armhole": "lined", "closure": "invisible-zip", "lining": "sewn-in"}, WOVEN,
     "join-lining-edges clip-square-lined turn-lined-edges"),
    ({"collar": "one-piece", "front": "facing", "closure": "buttons", "sleeve": "raglan", "lining": "bagged", "hem": "hand"}, WOVEN,
     "press-raglan-seams press-side-seams try-length-bagged join-lining-facing bag-lining"),
    ({"collar": "two-piece", "front": "band", "closure": "buttons", "waist-seam": "joined", "shaping": "darts", "belt": "loops"},
     WOVEN, "press-darts@skirt baste-belt-loops join-waist-seam"),
    (DRESS | {"gathers": "cartridge", "panels": "princess"}, WOVEN,
     "press-princess-seams turn-bodice-edge join-waist-seam sew-hem"),
    (DRESS | {"gathers": "cartridge"}, WOVEN, "turn-cartridge-edge draw-cartridge-rows join-waist-seam"),
    (SKIRT | {"zip-at": "side", "vent": "vent"}, WOVEN, "sew-centre-seam press-centre-seam mitre-vent"),
    ({"collar": "one-piece", "closure": "exposed-zip", "zip-at": "front", "sleeve": "raglan"}, KNIT,
     "face-exposed-opening insert-exposed-zip sew-side-seams"),
    ({"collar": "one-piece", "closure": "exposed-zip", "zip-at": "front", "sleeve": "raglan"}, KNIT,
     "insert-exposed-zip attach-collar"),
    ({"yoke": "double", "yoke-at": "both", "closure": "placket", "opening-at": "back", "collar": "one-piece"}, WOVEN,
     "sew-yoke close-yoke mark-placket fold-placket"),
    (FLY | {"hem": "banded", "vent": "slit"}, WOVEN,
     "sew-slit-edges sew-hem-band close-hem-band sew-buttonholes cut-buttonholes sew-buttons"),
    ({"neck": "facing", "armhole": "facing", "straps": "sewn", "closure": "invisible-zip", "zip-at": "side"}, WOVEN,
     "join-waist-facing face-armholes turn-armholes fell-facing-zip sew-hook"),
    ({"legs": "trousers", "closure": "separating-zip", "front": "facing", "collar": "one-piece", "sleeve": "set-in"}, WOVEN,
     "join-waist-seam press-waist-seam insert-separating-zip sew-front-facings"),
    ({"legs": "trousers", "closure": "separating-zip", "front": "facing", "collar": "one-piece", "belt": "loops"}, WOVEN,
     "baste-belt-loops join-waist-seam press-waist-seam finish-belt-loops"),
    ({"waist-seam": "joined", "straps": "strapless", "lining": "sewn-in", "shaping": "pleats"}, WOVEN,
     "press-pleats@lining.skirt join-waist-seam@lining.skirt press-waist-seam@lining.skirt join-lining-edges"),
    ({"neck": "facing", "armhole": "lined", "lining": "sewn-in", "back-stay": "sewn", "shaping": "darts"}, WOVEN,
     "press-darts cut-back-stay sew-shoulders"),
    ({"sleeve": "dolman-gusset", "neck": "binding", "seam-finish": "bound"}, WOVEN,
     "sew-gussets bind-gussets press-gussets sew-side-seams"),
    ({"neck": "binding", "neck-shape": "slit", "closure": "buttons", "opening-at": "back"}, WOVEN,
     "face-slit cut-slit turn-slit press-slit bind-neck close-neck-binding work-slit-loop sew-buttons"),
    ({"neck": "binding", "neck-shape": "slit", "closure": "hook", "opening-at": "back", "yoke": "double"}, WOVEN,
     "sew-yoke press-yoke cut-slit close-neck-binding sew-front-hooks sew-thread-loop"),
    ({"neck": "binding", "neck-shape": "slit", "opening-at": "back", "yoke": "plain"}, WOVEN, "sew-yoke press-yoke face-slit"),
    ({"front": "facing", "neck": "binding", "closure": "buttons"}, WOVEN,
     "sew-front-facings turn-front-facings press-front-facings bind-neck close-neck-binding sew-buttonholes"),
    (JACKET | {"lining": "free"}, WOVEN, "set-lining-sleeves press-lining-armholes join-lining-facing"),
    (JACKET | {"lining": "free"}, WOVEN, "join-lining-facing press-lining-facing hem-lining"),
    ({"yoke": "plain", "yoke-at": "front", "topstitching": "edges", "collar": "one-piece", "closure": "separating-zip"}, WOVEN,
     "press-yoke topstitch-yoke insert-separating-zip"),
    ({"front": "facing", "closure": "buttons", "waist": "band"}, WOVEN,
     "sew-front-facings press-front-facings close-waistband sew-buttonholes cut-buttonholes sew-buttons"),
    ({"collar": "one-piece", "sleeve": "set-in", "cuff": "hem", "hem": "single"}, WOVEN, "hem-sleeve-early try-length hem-sleeves"),
    ({"legs": "culottes", "waist": "band", "closure": "invisible-zip", "zip-at": "side", "pocket": "slant"}, WOVEN,
     "understitch-slant press-slant-edge close-slant-bags insert-invisible-zip close-zip-seam"),
    (FLY | {"lining": "waist"}, WOVEN, "sew-crotch press-crotch attach-waist-lining attach-waistband"),
    ({"collar": "two-piece", "front": "facing", "closure": "buttons"}, WOVEN,
     "sew-front-facings turn-front-facings press-front-facings attach-collar close-stand sew-buttonholes"),
    ({"collar": "two-piece", "front": "facing", "closure": "snaps", "lining": "bagged", "sleeve": "set-in"}, WOVEN,
     "clip-stand attach-collar sew-front-facings clip-neck turn-front-facings join-lining-facing"),
    ({"collar": "one-piece", "vent": "slit", "sleeve": "set-in", "hem": "double"}, WOVEN, "sew-slit-edges press-hem sew-hem"),
    ({"front": "band", "lining": "free", "sleeve": "set-in", "neck": "facing"}, WOVEN,
     "press-side-seams@lining.body baste-lining-fronts sew-front-bands press-front-bands"),
    ({"legs": "trousers", "waist-seam": "joined", "neck": "facing", "closure": "invisible-zip"}, WOVEN,
     "sew-front-crotch press-front-crotch sew-inseams join-waist-seam insert-invisible-zip sew-crotch"),
    (JACKET | {"lining": "bagged"}, WOVEN,
     "sew-centre-seam@lining.body press-centre-seam@lining.body pleat-lining sew-shoulders@lining.body"),
    ({"yoke": "plain", "waist": "facing", "closure": "invisible-zip", "lining": "waist"}, WOVEN,
     "sew-yoke press-yoke insert-invisible-zip close-zip-seam"),
    ({"yoke": "double", "neck": "facing", "sleeve": "set-in", "closure": "invisible-zip"}, WOVEN,
     "sew-yoke press-yoke insert-invisible-zip"),
    ({"neck": "band", "front": "facing", "closure": "separating-zip", "sleeve": "raglan", "lining": "bagged"}, WOVEN,
     "fold-open-neck-band sew-neck-band sew-front-facings clip-neck turn-front-facings join-lining-facing"),
    ({"neck-shape": "slit", "lining": "sewn-in", "armhole": "lined"}, WOVEN,
     "join-lining-edges face-slit cut-slit turn-lined-edges"),
    ({"collar": "one-piece", "front": "band", "closure": "buttons", "waist": "band", "topstitching": "edges"}, WOVEN,
     "topstitch-front-bands close-waistband topstitch-waistband sew-buttonholes cut-buttonholes sew-buttons"),
    ({"tiers": "gathered", "waist": "casing", "seam-finish": "overlocked"}, WOVEN,
     "gather-tiers sew-tiers overlock-tiers press-tiers sew-side-seams press-side-seams fold-casing"),
    ({"tiers": "gathered", "waist-seam": "joined", "gathers": "waist", "neck": "facing", "closure": "invisible-zip"}, WOVEN,
     "gather-tiers sew-tiers press-tiers sew-side-seams@skirt join-waist-seam insert-invisible-zip"),
    ({"between-legs": "seam", "neck": "elastic", "hem": "elastic", "lining": "flat", "seam-finish": "overlocked-seam"}, KNIT,
     "sew-side-seams press-side-seams try-body sew-neck-elastic turn-neck-elastic"),
    ({"between-legs": "seam", "neck": "elastic", "hem": "elastic", "seam-finish": "overlocked-seam"}, KNIT,
     "sew-between-legs press-between-legs try-body sew-hem-elastic turn-hem-elastic"),
    ({"shaping": "darts", "front": "band", "closure": "snaps", "collar": "one-piece"}, WOVEN,
     "sew-darts press-darts sew-front-bands press-front-bands topstitch-front-bands"),
    # What was free to come wrong: pairs of steps on one edge that no rule tied. Common practice, no source.
    (SKIRT | {"vent": "vent", "lining": "waist"}, WOVEN, "press-vent tack-vent try-length press-hem mitre-vent"),
    ({"shirring": "panel", "straps": "sewn"}, WOVEN, "finish-raw-edges hem-shirred-edge"),
    ({"sleeve": "set-in", "cuff": "hem", "neck": "facing"}, WOVEN, "finish-raw-edges hem-sleeve-early"),
    ({"sleeve": "raglan", "shoulder-pads": "sewn", "collar": "one-piece", "front": "facing"}, WOVEN,
     "press-raglan-seams sew-shoulder-pads try-length"),
    ({"sleeve": "raglan", "shoulder-pads": "sewn", "collar": "one-piece", "front": "facing"}, WOVEN,
     "sew-side-seams press-side-seams sew-shoulder-pads"),
    (FLY | {"shaping": "pleats"}, WOVEN, "baste-pleats press-pleats sew-fly-facing"),
    (FLY | {"belt": "loops"}, WOVEN, "press-side-seams sew-crotch baste-belt-loops"),
    ({"hem": "circular", "waist": "band", "closure": "invisible-zip"}, WOVEN, "insert-invisible-zip close-zip-seam hang"),
    ({"gathers": "cartridge", "waist": "band", "closure": "centred-zip"}, WOVEN, "insert-centred-zip turn-cartridge-edge"),
    ({"gathers": "waist", "legs": "trousers", "waist": "band", "closure": "fly"}, WOVEN, "sew-crotch draw-up-gathers"),
    ({"shaping": "darts", "neck": "facing", "closure": "centred-zip"}, PILE, "sew-darts press-darts baste-piled-seams"),
    ({"straps": "sewn", "closure": "invisible-zip", "lining": "sewn-in"}, WOVEN, "attach-straps try-length"),
    ({"neck": "combined-facing", "closure": "invisible-zip"}, WOVEN, "press-side-seams tack-facing"),
    ({"collar": "one-piece", "closure": "placket", "sleeve": "set-in"}, WOVEN,
     "set-sleeves-flat sew-side-seams sew-placket-buttonholes"),
    ({"straps": "buttoned", "neck": "facing", "armhole": "facing", "closure": "buttons"}, WOVEN,
     "sew-side-seams press-side-seams sew-buttonholes"),
    ({"neck": "facing", "neck-shape": "slit", "yoke": "plain"}, WOVEN, "staystitch-neck face-slit cut-slit"),
    ({"waist-seam": "joined", "collar": "one-piece", "front": "facing", "sleeve": "set-in", "lining": "bagged"}, WOVEN,
     "join-waist-seam press-waist-seam try-length-bagged press-lined-hem"),
    (FLY | {"pocket": "welt", "shaping": "darts"}, WOVEN, "press-darts mark-welts sew-welt-pockets"),
    ({"yoke": "plain", "vent": "vent", "collar": "one-piece", "front": "facing", "sleeve": "set-in"}, WOVEN,
     "sew-centre-seam press-centre-seam sew-yoke press-yoke sew-shoulders"),
    ({"yoke": "plain", "panels": "princess", "collar": "one-piece", "front": "facing"}, WOVEN,
     "sew-princess-seams press-princess-seams sew-yoke"),
    ({"neck": "facing", "closure": "buttons", "opening-at": "back", "sleeve": "set-in", "lining": "sewn-in",
      "lining-sleeves": "none"}, WOVEN, "turn-front-facings join-lining-facing press-lining-facing baste-lining-armhole"),
    (JACKET | {"lining": "bagged"}, WOVEN, "tack-lining-armholes turn-bagged-lining"),
    ({"waist": "band", "closure": "placket", "gathers": "waist"}, WOVEN,
     "sew-side-seams press-side-seams sew-seam-placket press-seam-placket try-waist attach-waistband close-waistband sew-hook"),
    ({"waist": "facing", "closure": "placket", "lining": "waist"}, WOVEN,
     "press-seam-placket attach-waist-lining face-waist turn-waist fell-facing-placket sew-hook"),
    ({"waist": "band", "closure": "placket", "lining": "waist"}, WOVEN, "press-seam-placket close-waistband fell-lining-placket"),
    ({"sleeve": "dolman", "neck": "facing", "cuff": "hem", "seam-finish": "french"}, WOVEN,
     "french-dolman-seams press-dolman-seams hem-sleeve-early"),
    ({"sleeve": "dolman", "neck": "facing", "cuff": "hem", "seam-finish": "french"}, WOVEN,
     "sew-side-seams french-side-seams stay-underarm press-side-seams"),
    ({"neck": "binding", "neck-shape": "square", "armhole": "binding"}, WOVEN,
     "reinforce-square press-shoulders clip-square-band bind-neck"),
    ({"neck": "band", "neck-shape": "v", "sleeve": "raglan"}, KNIT, "press-raglan-seams clip-v"),
    (JACKET | {"lining": "bagged", "pocket": "patch"}, WOVEN, "line-patch-pockets make-patch-pockets sew-patch-pockets"),
    (COAT | {"lining": "free", "vent": "vent", "pocket": "welt"}, WOVEN, "sew-welt-pockets sew-front-facings turn-front-facings"),
    (COAT | {"lining": "free", "vent": "vent"}, WOVEN, "press-vent tack-vent join-lining-facing"),
    ({"straps": "sewn", "neck": "facing", "lining": "sewn-in", "closure": "invisible-zip"}, WOVEN,
     "sew-neck-facing join-lining-edges turn-lined-edges insert-invisible-zip"),
    (COAT | {"lining": "bagged"}, WOVEN, "press-front-facings try-length-bagged press-lined-hem"),
    # A garment that is closed all round, neck and armholes sewn with one layer, cannot be turned: its neck is a ring within a ring.
    ({"neck": "combined-facing", "shaping": "darts"}, WOVEN,
     "sew-neck-facing clip-neck understitch-neck-facing turn-neck-facing press-neck roll-armholes clip-rolled-armholes "
     "turn-rolled-armholes press-rolled-armholes sew-side-seams press-side-seams tack-facing"),
    ({"lining": "sewn-in", "armhole": "lined"}, WOVEN,
     "join-lining-edges clip-lined-edges understitch-lining turn-lined-edges press-lined-edges roll-armholes clip-rolled-armholes "
     "turn-rolled-armholes press-rolled-armholes sew-side-seams"),
    ({"lining": "sewn-in", "armhole": "lined", "neck": "facing"}, WOVEN,
     "join-lining-facing sew-neck-facing turn-neck-facing roll-armholes turn-rolled-armholes sew-side-seams"),
    ({"lining": "edge-to-edge", "front": "lined"}, WOVEN, "sew-shoulders bag-lining turn-bagged-lining sew-side-seams"),
    ({"lining": "edge-to-edge"}, WOVEN, "join-lining-edges turn-lined-edges roll-armholes turn-rolled-armholes sew-side-seams"),
    # It opens from neck to hem until it is turned: the zip's seam, the lining's too, is sewn afterwards.
    ({"lining": "sewn-in", "armhole": "lined", "closure": "lapped-zip"}, WOVEN,
     "join-lining-edges turn-lined-edges sew-zip-seam insert-lapped-zip"),
    ({"lining": "sewn-in", "armhole": "lined", "closure": "lapped-zip"}, WOVEN,
     "turn-lined-edges sew-zip-seam@lining.body press-zip-seam@lining.body"),
    ({"neck": "combined-facing", "closure": "centred-zip"}, WOVEN, "turn-combined-facing sew-zip-seam insert-centred-zip"),
    ({"neck": "combined-facing", "straps": "buttoned", "legs": "trousers", "waist-seam": "joined", "pocket": "patch"}, PILE,
     "sew-patch-pockets turn-combined-facing baste-piled-seams sew-side-seams@leg"),
    ({"neck": "facing", "lining": "free", "lining-sleeves": "none", "sleeve": "set-in", "closure": "centred-zip"}, WOVEN,
     "join-lining-facing sew-neck-facing turn-neck-facing baste-free-armhole"),
    # A zip's tape lies over the bound edge; the other seams are bound once they are pressed open.
    (SKIRT | {"seam-finish": "bound"}, WOVEN, "bind-edges insert-lapped-zip"),
    (SKIRT | {"seam-finish": "bound"}, WOVEN, "press-side-seams bind-side-seams attach-waistband"),
    ({"neck": "facing", "closure": "invisible-zip", "seam-finish": "bound"}, WOVEN, "bind-edges insert-invisible-zip"),
    # What is turned and sewn is pressed before the next seam runs on from it, all of it before the last look at the length.
    ({"neck": "combined-facing", "closure": "invisible-zip", "hem": "blind"}, WOVEN,
     "turn-combined-facing press-neck sew-side-seams try-length"),
    ({"neck": "combined-facing", "closure": "invisible-zip", "hem": "blind"}, WOVEN,
     "turn-combined-facing press-neck insert-invisible-zip try-length"),
    (SHEATH, WOVEN, "turn-lined-edges press-lined-edges sew-side-seams@lining.body"),
    ({"neck": "band", "sleeve": "set-in", "cuff": "hem", "hem": "twin-needle"}, KNIT,
     "sew-neck-band press-neck-band topstitch-neck-band try-length"),
    (SHIRT | {"hem": "pointed", "closure": "placket"}, WOVEN, "turn-points sew-placket-buttonholes"),
    # A wrap's tie goes round through a slit: in the side seam, or through a skirt's band.
    ({"closure": "wrap", "neck": "facing", "hem": "narrow"}, WOVEN,
     "mark-tie-slit sew-side-seams press-side-seams stitch-tie-slit try-length"),
    ({"closure": "wrap", "neck": "facing", "hem": "narrow"}, WOVEN, "make-ties attach-ties sew-front-facings"),
    ({"closure": "wrap", "front": "lined", "lining": "edge-to-edge", "waist-seam": "joined", "hem": "blind"}, WOVEN,
     "sew-side-seams fell-tie-slit join-waist-seam try-length"),
    # A band at the lower edge closes a lined jacket: all that is done inside comes first, and nothing is left to bag.
    (COAT | {"lining": "bagged", "hem": "ribbed", "closure": "separating-zip", "seam-finish": "none"}, WOVEN,
     "insert-separating-zip sew-front-facings join-lining-facing press-lining-facing baste-lining-hem sew-hem-rib"),
    ({"neck": "band", "closure": "separating-zip", "sleeve": "raglan", "hem": "ribbed", "lining": "bagged"}, WOVEN,
     "insert-separating-zip join-lining-edges turn-lined-edges press-lined-edges baste-lining-hem sew-hem-rib"),
    ({"neck": "band", "closure": "separating-zip", "sleeve": "raglan", "hem": "ribbed", "lining": "bagged"}, WOVEN,
     "turn-lined-edges attach-free-lining sew-neck-band"),
    ({"neck": "band", "closure": "separating-zip", "sleeve": "raglan", "hem": "ribbed", "lining": "bagged"}, WOVEN,
     "join-bagged-sleeves hem-lined-wrist-later baste-lining-hem"),
    ({"neck": "binding", "hem": "narrow", "armhole": "binding"}, WOVEN, "close-neck-binding try-length"),
    (COAT | {"pocket": "welt-flap"}, WOVEN, "make-flaps sew-flap-pockets"),
    (SHIRT, WOVEN, "sew-yoke press-yoke sew-shoulders"),
    ({"collar": "one-piece", "front": "facing", "closure": "snaps", "armhole": "binding", "lining": "bagged"}, WOVEN,
     "turn-bagged-lining press-bagged sew-side-seams"),
    (JACKET | {"lining": "sewn-in"}, WOVEN, "tack-collar-seams join-lining-facing"),
    (JACKET | {"lining": "sewn-in", "hem": "hand"}, WOVEN, "hem-lined-wrist-later fell-lining-hem"),
    ({"neck": "facing", "armhole": "facing", "hem": "double"}, WOVEN, "turn-armholes try-length"),
    ({"collar": "one-piece", "sleeve": "set-in", "cuff": "none", "closure": "invisible-zip", "lining": "sewn-in"}, WOVEN,
     "set-sleeves-flat sew-side-seams press-side-seams join-lining-edges join-bagged-sleeves hem-lining"),
    ({"collar": "one-piece", "sleeve": "set-in", "cuff": "none", "closure": "invisible-zip", "lining": "sewn-in"}, WOVEN,
     "join-lining-edges tack-lining-armholes hem-lining"),
    ({"armhole": "lined", "lining": "sewn-in", "closure": "invisible-zip", "waist-seam": "joined", "hem": "narrow"}, WOVEN,
     "sew-side-seams@lining.bodice join-waist-seam@lining.skirt press-waist-seam@lining.skirt hem-lining"),
    (JACKET | {"waist-seam": "joined", "lining": "bagged", "vent": "none"}, WOVEN,
     "join-waist-seam press-waist-seam join-notched-collar turn-notched"),
    # A yoke's seam is pressed to one side: its edges are bound together.
    (COAT | {"yoke": "plain", "seam-finish": "bound"}, WOVEN, "sew-yoke bind-yoke press-yoke"),
    ({"waist": "band", "front": "facing", "closure": "snaps", "shaping": "pleats"}, WOVEN,
     "baste-pleats press-pleats sew-side-seams"),
    ({"closure": "wrap", "waist": "band", "hem": "double"}, WOVEN,
     "sew-front-facings attach-waistband close-waistband work-band-slit"),
]  # fmt: skip


def steps_of(features, cloth=WOVEN, **schools):
    return sequence(LIBRARY, SewnGarment(features, OVERLOCKER, schools=schools, cloth=cloth), lambda op: {})


def turned_round(steps):
    """The order that keeps every need and else is the reverse of these steps: what comes right by chance comes wrong in it."""
    place = {s.operation.id: k for k, s in enumerate(steps)}
    needs = {s.operation.id: {n.id for n in s.needs} for s in steps}
    done: list[str] = []
    while len(done) < len(steps):
        done.append(max((i for i in place if i not in done and needs[i] <= set(done)), key=place.__getitem__))
    return done


@pytest.mark.parametrize(("features", "cloth", "chain"), CHAINS)
def test_steps_come_in_the_order_of_practice_and_not_by_chance(features, cloth, chain):
    steps = steps_of(features, cloth)
    for order in ([s.operation.id for s in steps], turned_round(steps)):
        wanted = [step if step in order else step.partition("@")[0] for step in chain.split()]
        assert [step for step in order if step in wanted] == wanted


CROTCH_FIRST = [
    (FLY | {"seam-finish": "flat-felled", "yoke": "plain", "belt": "loops"},
     "fell-yoke fell-crotch-seams press-crotch-seams sew-inseams fell-inseams try-waist baste-belt-loops attach-waistband"),
    (FLY | {"seam-finish": "overlocked-seam"}, "topstitch-fly sew-crotch-seams sew-inseams"),
    ({"legs": "trousers", "waist": "casing", "seam-finish": "french"}, "french-crotch-seams sew-inseams try-waist"),
    ({"legs": "trousers", "waist": "band", "closure": "lapped-zip"}, "sew-crotch-seams insert-lapped-zip"),
    ({"legs": "trousers", "waist-seam": "joined", "neck": "facing"}, "sew-crotch-seams sew-inseams join-waist-seam"),
]  # fmt: skip


@pytest.mark.parametrize(("features", "chain"), CROTCH_FIRST)
def test_crotch_seams_may_be_sewn_flat_before_the_inseam_runs_through_from_hem_to_hem(features, chain):
    # The other main way with trousers: workwear, knits and children's things. Common practice, no source.
    steps = steps_of(features, **{"leg-seams": "crotch-first"})
    for order in ([s.operation.id for s in steps], turned_round(steps)):
        assert [step for step in order if step in chain.split()] == chain.split()
    assert "in one run from hem to hem" in next(s.operation.title for s in steps if s.operation.id == "sew-inseams")
    assert not [s for s in steps if "one leg inside the other" in s.operation.title]


@pytest.mark.parametrize(
    "features",
    [
        {"legs": "trousers", "waist-seam": "joined", "neck": "facing", "closure": "invisible-zip"},
        {"legs": "trousers", "waist": "yoke", "closure": "invisible-zip"},
    ],
)
def test_a_zip_that_runs_on_into_the_crotch_leaves_its_seam_for_last_whatever_the_school(features):
    steps = [s.operation.id for s in steps_of(features, **{"leg-seams": "crotch-first"})]
    assert "sew-crotch-seams" not in steps and steps.index("insert-invisible-zip") < steps.index("sew-crotch")


def test_a_lining_with_a_waist_seam_is_a_whole_before_it_is_felled_into_the_jacket():
    steps = steps_of(JACKET | {"waist-seam": "joined", "lining": "sewn-in"}, **{"lining-joining": "by-hand"})
    chain = ["press-waist-seam@lining.skirt", "tack-lining-by-hand", "fell-lining-by-hand", "fell-lining-hem"]
    for order in ([s.operation.id for s in steps], turned_round(steps)):
        assert [step for step in order if step in chain] == chain


def test_a_lining_felled_by_hand_has_its_shoulders_folded_over_and_no_seam_there():
    # Lining by hand, piece by piece: common practice, no source. Sewn by machine, the same seam would be closed twice.
    by_hand = [s.operation for s in steps_of(JACKET | {"lining": "sewn-in"}, **{"lining-joining": "by-hand"})]
    assert not [op.id for op in by_hand if "lining.body.shoulder" in op.on]
    assert next(op for op in by_hand if op.id == "fell-lining-by-hand").title.endswith(
        "the shoulders folded over, the neck"
    )
    assert any("lining.body.shoulder" in s.operation.on for s in steps_of(JACKET | {"lining": "sewn-in"}))


@pytest.mark.parametrize(("joined", "place"), [("by-machine", "machine"), ("by-hand", "hand")])
def test_a_free_lining_is_sewn_or_felled_to_the_pressed_facings(joined, place):
    coat = {"collar": "one-piece", "front": "facing", "sleeve": "set-in", "cuff": "hem", "lining": "free"}
    steps = steps_of(coat, **{"lining-joining": joined})
    assert next(s.operation for s in steps if s.operation.id == "join-lining-facing").place == place
    chain = ["turn-front-facings", "press-front-facings", "join-lining-facing", "hem-lining"]
    for order in ([s.operation.id for s in steps], turned_round(steps)):
        assert [step for step in order if step in chain] == chain


def test_a_raglan_lining_hangs_at_its_facings_before_it_is_felled_at_wrists_and_hem():
    steps = steps_of(
        {"collar": "one-piece", "front": "facing", "sleeve": "raglan", "lining": "sewn-in"},
        **{"lining-joining": "by-hand"},
    )
    chain = ["hem-lined-sleeve", "fell-lining-by-hand", "fell-lining-wrists"]
    for order in ([s.operation.id for s in steps], turned_round(steps)):
        assert [step for step in order if step in chain] == chain


def test_what_is_drawn_into_a_casing_needs_a_bodkin_and_no_stitch():
    for features, step in (
        ({"legs": "trousers", "waist": "casing"}, "thread-elastic"),
        ({"waist": "drawcord"}, "thread-drawcord"),
    ):
        op = next(s.operation for s in steps_of(features) if s.operation.id == step)
        assert machine_settings(op, WOVEN) == {"tool": "bodkin or safety pin"}


WORDS = [
    (
        {"lining": "bagged", "closure": "snaps"},
        ClothTraits("heavy", leather=True),
        "press-lined-edges",
        "Roll the lined edges",
    ),
    (
        {"lining": "bagged", "closure": "snaps"},
        ClothTraits("heavy", leather=True),
        "press-shoulders@lining.body",
        "Lining: press",
    ),
    (JACKET | {"lining": "bagged", "pocket": "patch"}, WOVEN, "make-patch-pockets", "Press the turned"),
    ({"between-legs": "seam", "neck": "binding", "hem": "bound"}, KNIT, "bind-hem", "to the leg openings"),
    ({"between-legs": "seam", "neck": "binding", "hem": "bound"}, KNIT, "press-hem-binding", "leg openings' binding"),
    ({"waist": "band", "closure": "placket"}, WOVEN, "sew-side-seams", "up to the placket's mark"),
    ({"waist": "yoke", "closure": "invisible-zip"}, WOVEN, "press-facing", "the inner yoke's seams"),
    (
        {"legs": "trousers", "waist-seam": "joined", "neck": "facing", "closure": "buttons", "opening-at": "back"},
        WOVEN,
        "sew-crotch",
        "to the back opening's mark",
    ),
    ({"sleeve": "set-in", "cuff": "faced", "neck": "facing"}, WOVEN, "face-sleeve-end", "to a ring"),
    ({"neck": "combined-facing", "straps": "sewn"}, WOVEN, "turn-combined-facing", "the facing to the inside"),
    ({"neck": "combined-facing", "closure": "centred-zip"}, WOVEN, "turn-combined-facing", "through its shoulders"),
    (SHIRT, WOVEN, "press-shoulders", "toward the yoke"),
    (SHIRT, WOVEN, "press-yoke", "toward the yoke"),
    (FLY, WOVEN, "press-crotch", "lower curve, which stays upright"),
    (COAT, WOVEN, "press-raglan-seams", "clipped where they turn"),
    ({"neck": "band", "sleeve": "raglan"}, KNIT, "press-raglan-seams", "toward the sleeves"),
    (SHIRT | {"sleeve-vent": "none"}, WOVEN, "make-cuffs", "to a ring"),
    (
        {"legs": "trousers", "waist": "knit-band", "hem": "ribbed"},
        KNIT,
        "join-waist-rib",
        "bands of waist and lower edge",
    ),
    (CAPE, WOVEN, "sew-side-seams", "from the neck over the shoulder"),
    (CAPE | {"lining": "bagged"}, WOVEN, "sew-side-seams@lining.body", "a turning gap left in one of them"),
    (CAPE | {"lining": "bagged"}, WOVEN, "staystitch-lining", "lining's neck"),
    (SHIRT | {"seam-finish": "french"}, WOVEN, "set-sleeves-flat", "wrong sides together, the first row"),
    (SHIRT | {"seam-finish": "flat-felled"}, WOVEN, "set-sleeves-flat", "for felling"),
    (
        {"neck": "facing", "sleeve": "raglan", "seam-finish": "french"},
        WOVEN,
        "sew-raglan-seams",
        "wrong sides together, the first row",
    ),
    ({"front": "facing", "closure": "buttons", "waist": "band"}, WOVEN, "clip-neck", "front seams"),
    (
        {"legs": "trousers", "waist": "facing", "closure": "lapped-zip", "zip-at": "side"},
        WOVEN,
        "join-waist-facing",
        "right side seam",
    ),
    (SHIRT | {"decoration": "piping"}, WOVEN, "baste-piping", "collar's outer edge"),
    (SHIRT | {"closure": "placket"}, WOVEN, "sew-buttonholes", "cuffs' buttonholes"),
    (CAPE | {"armhole": "none", "belt": "loops"}, WOVEN, "baste-belt-loops", "side edges at the waist"),
    (FLY | {"band-closure": "button"}, WOVEN, "cut-buttonholes", "Cut the band's buttonhole open"),
    (COAT | {"lining": "sewn-in", "hem": "single"}, WOVEN, "hand-hem", "by hand"),
    ({"neck": "band", "sleeve": "set-in", "hem": "twin-needle"}, KNIT, "hem-sleeves", "two rows"),
    (COAT | {"lining": "bagged"}, WOVEN, "sew-side-seams@lining.body", "side and sleeve seams"),
    (COAT | {"lining": "sewn-in"}, WOVEN, "join-lining-facing", "Sew the lining to the facings"),
    ({"legs": "trousers", "waist-seam": "joined", "front": "band", "hem": "ribbed"}, KNIT, "join-waist-rib", "ring"),
    ({"legs": "trousers", "waist-seam": "joined", "neck": "band"}, KNIT, "join-waist-seam", "bodice and trousers"),
    (
        {"neck": "band", "closure": "separating-zip", "sleeve": "raglan", "hem": "ribbed", "lining": "bagged"},
        WOVEN,
        "baste-lining-hem",
        "the band takes both in",
    ),
    (COAT | {"lining": "bagged"}, WOVEN, "bag-lining", "lower edge"),
    (COAT | {"yoke": "plain"}, WOVEN, "bind-yoke", "both edges together"),
    # The iron crushes a pile, and who tailors by hand fuses nothing: strips are sewn in.
    (JACKET, WOVEN, "fuse-vent", "Fuse a strip"),
    (JACKET, PILE, "fuse-vent", "Baste a strip"),
    (JACKET | {"interfacing": "sewn"}, WOVEN, "fuse-sleeve-hem", "Baste a bias strip"),
    (SKIRT, ClothTraits("medium", piled=True), "fuse-zip-edge", "Baste a strip of stay tape"),
    (COAT | {"pocket": "welt-flap"}, PILE, "back-welts", "Baste a strip"),
    ({"neck": "binding-ring"}, KNIT, "cut-binding", "across the knit"),
    ({"sleeve": "raglan", "neck": "band"}, KNIT, "sew-raglan-seams", "in one pass"),
    ({"legs": "trousers", "waist-seam": "joined", "front": "band"}, WOVEN, "sew-crotch", "front opening's mark"),
]


@pytest.mark.parametrize(("features", "cloth", "step", "words"), WORDS)
def test_a_seam_is_pressed_as_it_lies(features, cloth, step, words):
    assert words in next(s.operation.title for s in steps_of(features, cloth) if s.operation.id == step)


def test_sleeves_without_a_lining_have_finished_seams_in_a_lined_dress():
    lined = DRESS | {"sleeve": "set-in", "lining": "sewn-in", "lining-sleeves": "none"}
    titles = [s.operation.title for s in steps_of(lined)]
    assert "Overlock the raw edges of the skirt and the sleeves, each by itself" in titles
    assert "Overlock the armhole seams, both edges together" in titles
    own = [s.operation.title for s in steps_of(lined | {"lining-sleeves": "own"})]
    assert not any("Overlock" in title and ("sleeves" in title or "armhole" in title) for title in own)


@pytest.mark.parametrize("features", [DRESS, {"neck": "facing", "armhole": "lined"}])
def test_what_lies_between_a_hanging_lining_and_its_skirt_is_finished(features):
    steps = {s.operation.id: s.operation for s in steps_of(features | {"lining": "sewn-in", "hem": "hand"})}
    low = "skirt" if "waist-seam" in features else "body"
    assert f"{low}.side" in steps["finish-raw-edges"].on and "overlock-hem-edge" in steps
    assert f"lining.{low}.side" in steps["finish-raw-edges@lining." + low].on
    assert "bodice.side" not in steps["finish-raw-edges"].on


def test_only_the_lining_of_a_fur_is_ironed():
    fur = {"front": "facing", "closure": "hook", "sleeve": "dolman", "lining": "bagged"}
    steps = {s.operation.id: s.operation for s in steps_of(fur, ClothTraits("heavy", piled=True, fur=True))}
    assert steps["press-side-seams@lining.body"].place == "iron"
    assert steps["press-side-seams"].place == "hand" and steps["press-side-seams"].title.startswith("Finger-press")


def test_a_v_that_opens_down_the_front_has_no_point():
    knit = {"sleeve": "set-in", "neck": "band", "neck-shape": "v", "closure": "buttons"}
    ids = {s.operation.id for s in steps_of(knit | {"front": "band"}, KNIT)}
    assert not {"reinforce-v", "clip-v", "mitre-v-band"} & ids and "fold-open-neck-band" in ids
    behind = {s.operation.id for s in steps_of(knit | {"front": "band", "opening-at": "back"}, KNIT)}
    assert {"reinforce-v", "clip-v", "mitre-v-band"} <= behind


def test_an_opening_down_the_back_is_told_of_the_back():
    smock = {"collar": "one-piece", "front": "facing", "closure": "buttons", "opening-at": "back", "sleeve": "gathered"}
    titles = {s.operation.title for s in steps_of(smock)}
    assert "Sew the back facings" in titles
    assert not [title for title in titles if "front" in title]


def test_two_yokes_are_whole_at_the_shoulder_before_the_inner_one_closes_over_the_yoke_seams():
    titles = [s.operation.title for s in steps_of(SHIRT | {"yoke-at": "both", "gathers": "yoke"})]
    order = [
        "Sew the shoulder seams of both yokes, each by itself", "Press the shoulder seams of both yokes open",
        "Close the inner yoke over the yoke seams",
    ]  # fmt: skip
    assert [t for t in titles if t in order] == order


@pytest.mark.parametrize("finish", ["flat-felled", "french", "overlocked-seam"])
def test_enclosed_allowances_are_not_trimmed_inside_the_hem(finish):
    base = {"neck": "facing", "sleeve": "set-in", "hem": "double"}
    assert "trim-hem-allowance" not in {s.operation.id for s in steps_of(base | {"seam-finish": finish})}
    assert "trim-hem-allowance" in {s.operation.id for s in steps_of(base | {"seam-finish": "zigzag"})}


def test_a_knit_cap_set_flat_is_stretched_to_its_armhole_without_rows():
    tee = {"neck": "band", "sleeve": "set-in", "cuff": "hem"}
    flat = {s.operation.id: s for s in steps_of(tee, KNIT)}
    assert not {"ease-sleeve-cap", "take-out-ease"} & flat.keys()
    assert "cap-stretched" in flat["set-sleeves-flat"].operation.does.numbers
    assert "needs no rows" in SUMS["cap-stretched"](Facts())
    assert "ease-sleeve-cap" in {s.operation.id for s in steps_of(tee, KNIT, **{"sleeve-setting": "round"})}


def test_cuffs_are_sewn_on_with_the_seam_s_allowance_and_closed_at_the_edge():
    numbers = {s.operation.id: s.operation.does.numbers for s in steps_of(SHIRT)}
    assert (numbers["make-cuffs"], numbers["sew-cuffs"], numbers["close-cuffs"]) == (
        ("seam",),
        ("seam",),
        ("edge-stitch",),
    )


def test_a_free_lining_is_told_shorter_and_a_sewn_one_with_its_fold():
    free = {s.operation.id: s.operation.does.numbers for s in steps_of(SKIRT | {"lining": "waist"})}
    sewn = {s.operation.id: s.operation.does.numbers for s in steps_of(JACKET | {"lining": "sewn-in"})}
    assert (free["hem-lining"], sewn["fell-lining-hem"]) == (("lining-hem",), ("lining-fold",))
    assert "shorter than the garment" in SUMS["lining-hem"](Facts())
    assert "longer than it will hang" in SUMS["lining-fold"](Facts())


def test_a_law_stands_before_a_wish_that_was_said_first_the_other_way_round():
    for features in (SHEATH, {"panels": "princess", "straps": "strapless", "lining": "sewn-in"}):
        needs = {s.operation.id: {n.id for n in s.needs} for s in steps_of(features)}
        assert "sew-princess-seams" in needs["press-princess-seams"]
        assert "press-princess-seams" not in needs["sew-princess-seams"]


def test_a_cuff_put_on_before_the_sleeve_is_set_flat_takes_the_lining_s_end_in_flat_too():
    lined = JACKET | {
        "sleeve": "set-in",
        "cuff": "knit-band",
        "lining": "bagged",
        "seam-finish": "zigzag",
        "vent": "none",
    }
    order = [s.operation.id for s in steps_of(lined, **{"sleeve-hem": "before-setting", "sleeve-setting": "flat"})]
    assert order.index("baste-lining-wrists") < order.index("sew-knit-cuffs") < order.index("sew-side-seams")


@pytest.mark.parametrize("assembly", ["collar-first", "stand-first"])
def test_the_stand_is_clipped_and_turned_before_it_is_closed(assembly):
    order = [s.operation.id for s in steps_of(SHIRT, **{"collar-assembly": assembly})]
    assert order.index("join-collar-stand") < order.index("clip-stand") < order.index("close-stand")
    late = [s for s in order if s != "clip-stand"]
    late.insert(late.index("close-stand") + 1, "clip-stand")
    found = check_order(LIBRARY, SewnGarment(SHIRT, OVERLOCKER, schools={"collar-assembly": assembly}), late)
    assert any(f.law == "clip" and f.level == "stop" and f.needs == "clip-stand" for f in found)


def test_a_shirred_edge_is_not_staystitched_which_would_hold_it_flat():
    shirred = DRESS | {"shirring": "panel", "straps": "sewn", "gathers": "waist", "neck": "none", "closure": "none"}
    assert "staystitch-waist" not in {s.operation.id for s in steps_of(shirred)}
    assert "staystitch-waist" in {s.operation.id for s in steps_of(DRESS)}


def test_a_band_round_an_open_front_has_ends_and_is_no_ring():
    jacket = {"collar": "one-piece", "front": "band", "closure": "buttons", "sleeve": "set-in", "hem": "banded"}
    open_front = {s.operation.id for s in steps_of(jacket)}
    assert "make-open-hem-band" in open_front and "join-hem-band" not in open_front
    knit = {
        s.operation.id
        for s in steps_of({"neck": "band", "front": "facing", "closure": "separating-zip", "hem": "ribbed"}, KNIT)
    }
    assert {"fold-open-rib", "fold-open-neck-band"} <= knit and not {"join-waist-rib", "join-neck-band"} & knit
    ring = {s.operation.id for s in steps_of({"neck": "band", "sleeve": "raglan", "hem": "ribbed"}, KNIT)}
    assert {"join-waist-rib", "join-neck-band"} <= ring


def test_every_seam_of_an_overlocked_garment_is_sewn_on_the_overlocker_and_the_seat_not_twice():
    leggings = {"legs": "trousers", "waist": "elastic-sewn", "hem": "twin-needle", "seam-finish": "overlocked-seam"}
    places = {s.operation.id: s.operation.place for s in steps_of(leggings, KNIT)}
    assert {places[step] for step in ("sew-side-seams", "sew-inseams", "sew-crotch")} == {"overlocker"}
    assert "reinforce-crotch" not in places


def test_what_has_straps_has_no_shoulders_to_be_sewn_in_its_facing_either():
    steps = [s.operation.id for s in steps_of({"straps": "sewn", "neck": "facing", "armhole": "facing"})]
    assert not any("shoulder" in step for step in steps)


@pytest.mark.parametrize(
    ("features", "schools"),
    [
        ({"neck": "combined-facing", "lining": "bagged"}, {}),
        ({"neck": "band", "sleeve": "dolman", "cuff": "knit-band", "vent": "vent"}, {"sleeve-end": "flat"}),
    ],
)
def test_rare_ways_together_have_an_order(features, schools):
    # A facing whose sides are sewn with the body's is joined to its lining after them; a back's vent does not run into a sleeve.
    steps = steps_of(features, **schools)
    assert len({s.operation.id for s in steps}) == len(steps) > 15


@pytest.mark.parametrize("hem", ["with-the-hem", "before-setting"])
@pytest.mark.parametrize("end", ["round", "flat"])
def test_a_cut_on_sleeve_is_hemmed_whatever_the_school_and_over_a_waist_seam_too(hem, end):
    for more in ({}, {"waist-seam": "joined"}):
        steps = [
            s.operation.id
            for s in steps_of({"neck": "facing", "sleeve": "dolman"} | more, **{"sleeve-hem": hem, "sleeve-end": end})
        ]
        assert steps.count("hem-sleeves") == 1
        sides = next(k for k, step in enumerate(steps) if step.startswith("sew-side-seams") and "skirt" not in step)
        assert (steps.index("hem-sleeves") < sides) == (end == "flat")


def test_leather_is_rolled_open_sewn_with_long_stitches_and_neither_ironed_nor_finished():
    jacket = {
        "front": "facing",
        "closure": "separating-zip",
        "sleeve": "set-in",
        "collar": "one-piece",
        "lining": "bagged",
    }
    hide = ClothTraits("heavy", leather=True)
    steps = {s.operation.id: s.operation for s in steps_of({k: v for k, v in jacket.items() if k != "lining"}, hide)}
    assert steps["press-side-seams"].title.startswith("Roll") and steps["press-side-seams"].place == "hand"
    assert "finish-raw-edges" not in steps
    assert machine_settings(steps["sew-side-seams"], hide)["stitch"] == "3.5 mm"
    lined = {s.operation.id: s.operation for s in steps_of(jacket, hide)}
    assert lined["press-side-seams@lining.body"].place == "iron"


def test_a_hem_before_the_pleats_is_given_up_and_said_where_a_zip_s_seam_is_closed_after_the_waist():
    pleated = DRESS | {"shaping": "pleats"}
    garment = SewnGarment(pleated, schools={"pleat-hem": "first"}, tools=OVERLOCKER)
    ids = [s.operation.id for s in sequence(LIBRARY, garment, lambda op: {})]
    assert ids.index("baste-pleats") < ids.index("try-length") < ids.index("sew-hem")
    assert any("the hem is sewn last" in words for words in assembled(LIBRARY, garment).taken)


def test_without_an_overlocker_nothing_is_said_to_be_sewn_in_one_pass():
    shirt = SewnGarment({"sleeve": "raglan", "neck": "band"}, cloth=KNIT)
    titles = [s.operation.title for s in sequence(LIBRARY, shirt, lambda op: {})]
    assert not [t for t in titles if "one pass" in t]
    assert len([t for t in titles if t.endswith("zigzag beside the stitching")]) == len({"raglan", "sides"})


def test_what_is_gathered_into_the_waist_has_no_darts_there():
    ids = {s.operation.id for s in steps_of(DRESS | {"shaping": "darts", "gathers": "waist"})}
    assert "sew-darts" in ids and not {"sew-darts@skirt", "sew-darts@bodice"} & ids


def test_a_shirred_top_without_straps_is_held_by_its_elastic_and_not_faced():
    garment = SewnGarment({"shirring": "panel", "straps": "strapless", "waist-seam": "joined"})
    ids = {op.operation.id for op in sequence(LIBRARY, garment, lambda op: {})}
    assert "hem-shirred-edge" in ids and not {"sew-strapless-edge", "staystitch-upper"} & ids
    assert any("own elastic" in words for words in assembled(LIBRARY, garment).taken)


def test_only_a_tailored_front_is_taped_and_fused_twice():
    pyjama = {"collar": "notched", "closure": "buttons", "sleeve": "set-in", "hem": "double", "interfacing": "fusible"}
    tailoring = {"press-roll-line", "fuse-lapels", "interface-hem"}
    assert not tailoring & {s.operation.id for s in steps_of(pyjama)}
    jacket = pyjama | {"lining": "sewn-in", "sleeve": "two-piece", "hem": "hand"}
    assert tailoring <= {s.operation.id for s in steps_of(jacket)}


def test_a_skirt_that_is_fastened_opens_somewhere():
    """A buttonhole in a skirt that opens nowhere, or a hook on a closed tube, cannot be worn."""
    band = {"waist": "band", "gathers": "waist"}
    hooked = {s.operation.id for s in steps_of(band | {"closure": "hook"})}
    assert {"insert-lapped-zip", "sew-hook"} <= hooked
    buttoned = {s.operation.id for s in steps_of(band | {"closure": "buttons"})}
    assert {"sew-front-facings", "sew-buttonholes"} <= buttoned
    assert "insert-fly-zip" in {
        s.operation.id for s in steps_of({"legs": "trousers", "waist": "band", "closure": "buttons"})
    }
    wrapped = {s.operation.id for s in steps_of(band | {"closure": "hook", "front": "facing"})}
    assert "insert-lapped-zip" not in wrapped and "sew-hook" in wrapped


def test_small_parts_of_a_childs_straps_and_cuffs_are_pulled_at_too():
    child = {"wearer": "child", "straps": "buttoned", "neck": "facing-lining", "lining": "edge-to-edge"}
    assert "check-small-parts" in {s.operation.id for s in steps_of(child)}


def test_a_knitted_band_is_sewn_to_the_edge_that_the_garment_has():
    top = {s.operation.title for s in steps_of({"neck": "band", "sleeve": "dolman", "waist": "knit-band"}, KNIT)}
    assert "Sew the wide knitted band to the lower edge, stretched evenly" in top
    assert not [title for title in top if "hip" in title]
    assert "Try on: waist and hip" in {
        s.operation.title for s in steps_of({"legs": "trousers", "waist": "knit-band"}, KNIT)
    }


@pytest.mark.parametrize(
    ("finish", "way"), [("hand", "Overcast"), ("pinked", "Pink"), ("zigzag", "Zigzag"), ("overlocked", "Overlock")]
)
def test_a_hem_s_raw_edge_is_finished_as_the_seams_are(finish, way):
    dress = {"neck": "facing", "sleeve": "set-in", "cuff": "hem", "hem": "hand", "seam-finish": finish}
    titles = [s.operation.title for s in steps_of(dress) if "raw edge of" in s.operation.title]
    assert len(titles) == 2 and all(title.startswith(way) for title in titles)


def test_buttoned_straps_and_a_buttoned_front_have_buttonholes_each():
    dress = {"straps": "buttoned", "neck": "facing", "waist-seam": "joined", "front": "facing", "closure": "buttons"}
    on = next(s.operation.on for s in steps_of(dress) if s.operation.id == "sew-buttonholes")
    assert {"strap.buttonhole", "bodice.buttonhole"} <= set(on)
    alone = {k: v for k, v in dress.items() if k != "front"}
    assert next(s.operation.on for s in steps_of(alone) if s.operation.id == "sew-buttonholes") == ("strap.buttonhole",)


@pytest.mark.parametrize(("cuff", "fused"), [("hem", True), ("band", False)])
def test_a_tailored_sleeve_s_hem_is_backed_where_it_has_one(cuff, fused):
    ids = {
        s.operation.id for s in steps_of({"collar": "one-piece", "front": "band", "sleeve": "two-piece", "cuff": cuff})
    }
    assert ("fuse-sleeve-hem" in ids) is fused


@pytest.mark.parametrize("finish", ["french", "overlocked"])
def test_side_seams_of_bodice_and_skirt_are_told_apart_however_each_is_finished(finish):
    # The tie's slit keeps the bodice's edges apart, the skirt's are sewn as French seams: two kinds of step, one seam's name.
    dress = {"closure": "wrap", "neck": "facing", "waist-seam": "joined", "sleeve": "set-in", "seam-finish": finish}
    joins = [s.operation.title for s in steps_of(dress) if "sew the side" in s.operation.title.lower()]
    assert {title.partition(":")[0] for title in joins} == {"Bodice", "Skirt"}


def test_each_step_of_a_binding_says_its_own_figure():
    # Four times what shows, a quarter inch of it: common practice, no source. 4 x 6.35 = 25.4 mm.
    steps = {
        s.operation.id: s.operation.does.numbers
        for s in steps_of({"neck": "binding", "hem": "bound", "sleeve": "set-in", "cuff": "bound"})
    }
    assert SUMS[steps["cut-binding"][0]](Facts()).startswith(
        "Strips 2.5 cm (1 in) wide, four times the 0.6 cm (1/4 in)"
    )
    for trimmed in ("trim-neck-binding", "trim-sleeve-binding"):
        assert SUMS[steps[trimmed][0]](Facts()).startswith("To 0.6 cm (1/4 in)")
    assert "crease" in SUMS[steps["bind-neck"][0]](Facts())
    assert not steps["close-hem-binding"] and not steps["close-sleeve-binding"]
