"""Why a size is advised and what to look out for, in sentences a sewist would say."""

from rowanseed.core.errors import Finding
from rowanseed.core.fit.chart_comparison import ChartComparison
from rowanseed.core.fit.ease import ease_for_look, look_of, wanted_ease
from rowanseed.core.fit.scale import figure
from rowanseed.core.lengths import both

LENGTH_MM = 25.0  # a smaller difference of heights is left to the hem
SMALL_BUST_MM = 15.0  # a cup smaller by less is left to the ease; common practice, no source
HEIGHT_SHARES = (("neck to waist", 0.25), ("waist to crotch", 0.14), ("inside leg", 0.47), ("arm", 0.34))  # from memory
LEAST_CUP_MM = 5.0  # and one larger by less


def findings_of(w: ChartComparison) -> list[Finding]:
    """Every finding of a request that was weighed, the reason first."""
    return [
        _reason(w),
        *_between(w),
        *_beyond_chart(w),
        *_ease(w),
        *_zones_differ(w),
        *_bust(w),
        *_length(w),
        *_growth(w),
        *_child(w),
        *_knit(w),
        *_cloth(w),
        *_over_clothes(w),
    ]


def _reason(w: ChartComparison) -> Finding:
    at = w.scale.sizes.index(w.size)
    low, high = w.scale.low[at], w.scale.high[at]
    chart = both(low) if low == high else f"{both(low)} to {both(high)}"
    under = w.request.worn_under if w.key != "height" else 0.0
    grown = w.request.growth.height_mm if w.key == "height" else w.request.growth.girth_mm
    body = f"{both(w.body)}" + (f" over what adds {both(under)}" if under else "")
    body += f" and {both(grown)} to grow" if grown else ""
    if w.request.school == "finished" and w.key != "height":
        text = (
            f"Size {w.size}: the {w.measure}, {body}, plus {both(w.scale.target - w.body - under - grown)} of ease asks for "
            f"{both(w.scale.target)}; this size is finished at {chart}."
        )
    elif w.request.school == "at-least":
        text = f"Size {w.size}: the first whose {w.key}, {chart}, is at or above the {w.measure}, {body}."
    else:
        text = f"Size {w.size}: the {w.measure}, {body}, against {chart} in the chart."
    if w.key != w.request.key:
        text += f" The chart gives no {w.request.key}, so the {w.key} decides."
    return Finding("note", "reason", text)


def _between(w: ChartComparison) -> list[Finding]:
    """Both ways out when the measure lies between two sizes."""
    if w.pair is None or w.request.school == "at-least":
        return []
    low, high = (w.scale.sizes[k] for k in w.pair)
    over = w.scale.low[w.pair[1]] - w.scale.target
    if w.scale.line_for_each_inch():
        share = (w.scale.target - w.scale.high[w.pair[0]]) / (w.scale.low[w.pair[1]] - w.scale.high[w.pair[0]])
        text = (
            f"A line for each inch: the {w.measure} lies {both(w.scale.target - w.scale.high[w.pair[0]])} beyond line {low}, "
            f"{share:.0%} of the way to {high}. Draw your own line there, or take {high}."
        )
        return [Finding("note", "own-line", text)]
    near = w.scale.sizes[w.scale.nearest()]
    larger = f"take {high} and, after a try-on, take it in by {both(over / 4)} at each edge of both side seams"
    if near == high:
        text = f"It lies between {low} and {high}, nearer to {high}: {larger}, or cut each zone on its own line."
        return [Finding("note", "between-sizes", text)]
    blend = f"take the nearer, {near}, and cut each zone on its own line"
    ways = (larger, blend) if w.request.between == "larger" else (blend, larger)
    text = f"It lies between {low} and {high}: {ways[0]}. The other way: {ways[1]}."
    return [Finding("note", "between-sizes", text)]


def _beyond_chart(w: ChartComparison) -> list[Finding]:
    found = []
    for zone, own in w.scales.items():
        end = own.beyond()
        if end is not None and zone != "height":
            text = (
                f"The {zone} needs {both(own.target)}; the {end[0]} size gives {both(end[1])}: "
                f"alter there by {both(abs(own.target - end[1]))}."
            )
            found.append(Finding("care", "beyond-chart", text))
    return found


def _ease(w: ChartComparison) -> list[Finding]:
    """Ease under the least, and the look that the bust's gives, beside the one wanted."""
    found = []
    for zone in w.zones:
        if zone.ease_mm is None:
            continue
        least = w.request.least_ease(zone.zone)
        smaller_woven = zone.ease_mm < 0 and not w.request.stretch  # `_knit` says that it cannot be put on
        if zone.ease_mm < least - 1e-6 and not smaller_woven:
            text = (
                f"At the {zone.zone} size {zone.size} leaves {_signed(zone.ease_mm)} of ease, under the {both(least)} "
                "that moving and breathing need. Fine if it is meant to be that close."
            )
            found.append(Finding("care", "under-wearing-ease", text))
        if zone.zone == "bust" and not w.request.stretch:
            look = look_of(zone.ease_mm - w.request.worn_under, w.request.garment, w.request.eases)
            wanted = ease_for_look(w.request.look, w.request.garment, w.request.eases)
            text = f"{_signed(zone.ease_mm)} of ease at the bust: {look}."
            if wanted is not None and look != w.request.look:
                text += (
                    f" You want it {w.request.look}, about {both(wanted)}: choose by the finished garment to get it."
                )
            found.append(Finding("note", "look", text))
    return found


def _zones_differ(w: ChartComparison) -> list[Finding]:
    """Zones of other sizes, but for those where the size taken leaves enough ease: a straight cut asks for no wider waist."""
    roomy = _roomy(w)
    own = {zone.zone: zone.size for zone in w.zones if zone.zone not in roomy}
    left = " and ".join(f"{both(mm)} at the {zone}" for zone, mm in roomy.items())
    enough = (
        f"Size {w.size} leaves {left}, enough for this cut without the larger size that the chart has there."
        if roomy
        else ""
    )
    if len(set(own.values())) <= 1:
        return [Finding("note", "zones-differ", enough)] if roomy else []
    parts = ", ".join(f"{zone} {name}" for zone, name in own.items())
    advice = (
        "cut each zone on its own line and join the lines smoothly between."
        if w.request.between == "blend"
        else f"cut {w.size} and take it in after a try-on."
    )
    text = f"The zones ask for different sizes ({parts}): {advice}"
    return [Finding("note", "zones-differ", f"{text} {enough}".strip())]


def _roomy(w: ChartComparison) -> dict[str, float]:
    """The zones whose own size is larger, and the ease that the size taken leaves there: no less than is usual in the garment."""
    sizes = [row.size for row in w.request.chart]
    usual = wanted_ease(w.request.garment, {}, w.request.stretch, w.request.body, w.request.eases)
    found: dict[str, float] = {}
    for zone in w.zones:
        finished = figure(w.request.finished, w.size, zone.zone)
        larger = w.size in sizes and zone.size in sizes and sizes.index(zone.size) > sizes.index(w.size)
        if finished is None or not larger:
            continue
        ease = finished - zone.body_mm - w.request.worn_under
        if ease >= usual[zone.zone]:
            found[zone.zone] = ease
    return found


def _signed(mm: float) -> str:
    return both(mm) if mm >= 0 else f"minus {both(-mm)}"


def _bust(w: ChartComparison) -> list[Finding]:
    """Full bust against high bust and the pattern's cup: enlarge or reduce the bust on the pattern, and by how much."""
    if not w.by_high_bust or w.key != "bust":
        return []
    difference = w.request.body["bust"] - w.request.body["high_bust"]
    beyond = difference - w.request.cup
    chooses = "chooses" if w.measure == "high bust" else "choose"
    why = f"the pattern is drawn for {both(w.request.cup)}, so the {w.measure} {chooses} the size"
    if beyond > LEAST_CUP_MM:
        text = (
            f"The full bust is {both(difference)} larger than the high bust; {why}, which fits the shoulders. Enlarge the bust "
            f"on the pattern by {both(beyond)} in all, {both(beyond / 2)} on each side."
        )
        return [Finding("care", "bust-enlargement", text)]
    if beyond < -SMALL_BUST_MM:
        text = (
            f"The full bust is only {both(max(0.0, difference))} larger than the high bust; {why}. Reduce the bust on the "
            f"pattern by {both(-beyond)} in all, {both(-beyond / 2)} on each side, as a small bust."
        )
        return [Finding("care", "bust-reduction", text)]
    return []


def _length(w: ChartComparison) -> list[Finding]:
    drafted = w.request.drafted_height
    if drafted is None or "height" not in w.request.body:
        return []
    difference = w.request.body["height"] - drafted
    if abs(difference) < LENGTH_MM:
        return []
    word, change = ("taller", "Lengthen") if difference > 0 else ("shorter", "Shorten")
    text = (
        f"You are {both(abs(difference))} {word} than the height the pattern is drawn for. "
        f"{change} at its lines, above and below the waist, and change every piece that joins."
    )
    return [Finding("care", "length", text)]


def _growth(w: ChartComparison) -> list[Finding]:
    """What a child grows while it wears the garment: counted in round the body, and in length apart from it."""
    grown = w.request.growth
    if not grown.months:
        return []
    text = (
        f"In {grown.months} months a child of this age grows about {both(grown.height_mm)} in height and {both(grown.girth_mm)} "
        "round the body ({}; the ease table has the figures). Both are counted in. Length is cheap to keep: a deep hem or "
        "a tuck let down later; width is not, so do not take a size more for it."
    ).format(w.request.eases.source("growth.height.10"))
    return [Finding("note", "growth", text)]


def _child(w: ChartComparison) -> list[Finding]:
    """A child's size by height and by age beside the one by girth: width by girth, length by height, age only a guess."""
    found = []
    tall = w.scales.get("height")
    if tall is not None and w.key != "height":
        size = tall.sizes[tall.nearest()]
        if size != w.size:
            text = (
                f"By height, {both(tall.target)}, it is size {size}; by the {w.key} size {w.size}. Cut the width of "
                f"{w.size} at the length of {size}: the pieces' lengthening lines, the hem, and on a tall child the strap."
                f"{_shared_out(w, size)}"
            )
            found.append(Finding("care", "height-differs", text))
    if w.request.age is not None:
        aged = next((r.size for r in w.request.chart if r.age and r.age[0] <= w.request.age <= r.age[1]), None)
        if aged is not None and aged != w.size:
            text = f"The size for {w.request.age:g} years would be {aged}. Age is only a guess: the tape decides."
            found.append(Finding("note", "age-differs", text))
    return found


def _shared_out(w: ChartComparison, size: str) -> str:
    """How a difference of heights divides over the lines at which a pattern is lengthened."""
    chart = {row.size: row.mm["height"] for row in w.request.chart if "height" in row.mm}
    if not {size, w.size} <= chart.keys():
        return ""
    tall = chart[size] - chart[w.size]
    parts = ", ".join(f"{words} {both(abs(tall) * share)}" for words, share in HEIGHT_SHARES)
    word = "more" if tall > 0 else "less"
    return f" The height between them, {both(abs(tall))}, divides so (from memory of body charts): {parts} {word}."


def _knit(w: ChartComparison) -> list[Finding]:
    """The stretch the pattern asks for and what negative ease needs, against what the cloth has."""
    found, have, asked = [], w.request.stretch, w.request.least_stretch
    if asked and have < asked - 1e-9:
        text = f"The pattern asks for cloth that stretches by {asked:.0%}; this one gives {have:.0%}. " + (
            "Choose another cloth, or a size or more larger." if have else "On woven cloth it will not go on."
        )
        found.append(Finding("care", "stretch-too-little", text))
    for zone in w.zones:
        if zone.ease_mm is None or zone.finished_mm is None or zone.ease_mm >= 0 or zone.finished_mm <= 0:
            continue
        need = -zone.ease_mm / zone.finished_mm
        level = "care" if need > have else "note"
        text = f"At the {zone.zone} size {zone.size} is {both(-zone.ease_mm)} smaller than the body" + (
            f", so the cloth must stretch by at least {need:.0%} there; it gives {have:.0%}."
            if have
            else ": cloth that does not stretch cannot be closed over it. Take a larger size there."
        )
        found.append(Finding(level, "stretch-needed", text))  # type: ignore[arg-type]
    return found


def _cloth(w: ChartComparison) -> list[Finding]:
    """Cloth that needs more room: what it takes up, and where too little is left."""
    takes = {trait: w.request.eases.get(f"takes.{trait}") for trait in w.request.cloth}
    if not takes:
        return []
    sum_mm = sum(takes.values())
    short = [
        zone.zone
        for zone in w.zones
        if zone.ease_mm is not None and zone.ease_mm - sum_mm < w.request.least_ease(zone.zone)
    ]
    text = f"Cloth that is {' and '.join(takes)} takes up about {both(sum_mm)} of the ease"
    if short:
        text += f": too little is left at the {' and '.join(short)}. Take more ease there, or a softer cloth."
    else:
        text += "; enough is left."
    return [Finding("care" if short else "note", "cloth-needs-room", text)]


def _over_clothes(w: ChartComparison) -> list[Finding]:
    if w.request.garment != "coat" or w.request.worn_under:
        return []
    text = (
        "Measured over what will go under it, or over a thick jumper about one to one and a half sizes more; "
        "or say what is worn under, and its bulk is added to the ease."
    )
    return [Finding("note", "worn-under", text)]
