/** What a saved picture carries of how it came about, read from its bytes: text in PNG, XMP elsewhere (docs/formats.md). */

const KEYWORD = "warmtide:recipe";
/** Behind the keyword of an iTXt chunk: two flags, and two texts that are empty, each with its end. */
const ITXT_FLAGS = 5;
const MOST = 1 << 20;
const NAMED: Record<string, string> = { quot: '"', lt: "<", gt: ">", amp: "&", "#x27": "'", "#39": "'" };

const find = (bytes: Uint8Array, what: string, from = 0): number => {
  const first = what.charCodeAt(0);
  for (let at = bytes.indexOf(first, from); at >= 0; at = bytes.indexOf(first, at + 1)) {
    let k = 1;
    while (k < what.length && bytes[at + k] === what.charCodeAt(k)) k++;
    if (k === what.length) return at;
  }
  return -1;
};

function parsed(text: string): Record<string, unknown> | null {
  try {
    const found: unknown = JSON.parse(text);
    return found && typeof found === "object" && "recipe" in found ? (found as Record<string, unknown>) : null;
  } catch {
    return null;
  }
}

/** The JSON inside a picture file, or null. */
export function inside(bytes: Uint8Array): Record<string, unknown> | null {
  const utf8 = new TextDecoder();
  for (let at = find(bytes, KEYWORD); at >= 0; at = find(bytes, KEYWORD, at + KEYWORD.length)) {
    const after = at + KEYWORD.length;
    if (bytes[after] === 0) {
      // The chunk's length stands before its type, which stands before its keyword.
      const length = new DataView(bytes.buffer, bytes.byteOffset).getUint32(at - 8);
      const begin = after + ITXT_FLAGS;
      if (length < MOST) return parsed(utf8.decode(bytes.subarray(begin, at + length)));
    }
    if (bytes[after] === 61 && bytes[after + 1] === 34) {
      const end = bytes.indexOf(34, after + 2);
      if (end > 0 && end - after < MOST) return parsed(utf8.decode(bytes.subarray(after + 2, end)).replace(/&(#?\w+);/g, (whole, name: string) => NAMED[name] ?? whole));
    }
  }
  return null;
}
