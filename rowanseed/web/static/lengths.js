// Lengths as they are typed, for pages that have to understand them without a connection: the same words and rules as the
// application's own reading of lengths, and held against it.
(() => {
  const PER = { mm: 1, cm: 10, m: 1000, in: 25.4, ft: 304.8, yd: 914.4 };
  const WORDS = {
    mm: "mm", millimetre: "mm", millimetres: "mm", millimeter: "mm", millimeters: "mm",
    cm: "cm", centimetre: "cm", centimetres: "cm", centimeter: "cm", centimeters: "cm",
    m: "m", metre: "m", metres: "m", meter: "m", meters: "m",
    in: "in", "in.": "in", inch: "in", inches: "in", '"': "in", "”": "in", "″": "in", "''": "in",
    ft: "ft", "ft.": "ft", foot: "ft", feet: "ft", "'": "ft", "’": "ft", "′": "ft",
    yd: "yd", "yd.": "yd", yds: "yd", yard: "yd", yards: "yd",
  };
  const SIGNS = {
    "½": "1/2", "¼": "1/4", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8", "⅓": "1/3", "⅔": "2/3",
    "⅕": "1/5", "⅖": "2/5", "⅗": "3/5", "⅘": "4/5", "⅙": "1/6", "⅚": "5/6",
  };
  const AFTER = { m: "cm", yd: "in", ft: "in" };  // what a bare number behind such a unit means
  const NUMBER = /(?:(?:(\d{1,7})(?:\s+|\s*[-–]\s*))?(\d{1,4})\s*[/⁄]\s*(\d{1,4})|(\d{1,9}(?:[.,]\d{1,9})?|[.,]\d{1,9}))/y;
  const WORD = /\s*(''|["”″'’′]|[a-z]+\.?)/y;
  const take = (pattern, text, at) => { pattern.lastIndex = at; return pattern.exec(text); };

  // The length in mm, or null where it is none.
  const read = (typed, unit) => {
    let text = typed.trim().toLowerCase().replace(/[\u00a0\u202f]/g, " ");
    if (!text || text.length > 60) return null;
    text = text.replace(/[½¼¾⅛⅜⅝⅞⅓⅔⅕⅖⅗⅘⅙⅚]/g, (sign) => ` ${SIGNS[sign]}`).trim();
    let total = 0, last = null, at = 0;
    while (at < text.length) {
      const number = take(NUMBER, text, at);
      if (!number) return null;
      at += number[0].length;
      const word = take(WORD, text, at);
      if (word) at += word[0].length;
      const own = word ? WORDS[word[1]] : last ? AFTER[last] : unit;
      if (!own || (last && PER[own] >= PER[last])) return null;
      if (/^[1-9]\d*,\d{3}$/.test(number[4] || "")) return null;  // read two ways
      const part = number[3] !== undefined ? Number(number[1] || 0) + number[2] / number[3] : Number(number[4].replace(",", "."));
      if (!Number.isFinite(part)) return null;
      total += part * PER[own];
      last = own;
      while (/\s/.test(text[at] || "")) at += 1;
    }
    return total <= 1e6 ? total : null;
  };

  // A length in words of a household that reckons in cm or in inches, to a millimetre or an eighth.
  const say = (mm, unit, comma) => {
    if (unit === "in") {
      const eighths = Math.round(mm / 25.4 * 8);
      const whole = Math.floor(eighths / 8);
      let over = eighths % 8, under = 8;
      while (over && over % 2 === 0) { over /= 2; under /= 2; }
      return `${whole || !over ? whole : ""}${over ? `${whole ? " " : ""}${over}/${under}` : ""} in`;
    }
    const written = String(Math.round(mm) / 10);
    return `${comma ? written.replace(".", ",") : written} cm`;
  };

  window.rowanLength = { read, say };
})();
