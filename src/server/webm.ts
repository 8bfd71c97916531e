/** One Opus track as it lies in a WebM file. */
export interface WebmOpus {
  channels: number;
  /** Samples at 48 kHz to leave out at the start. */
  preSkip: number;
  packets: Uint8Array[];
}

const ID = {
  segment: 0x18538067,
  tracks: 0x1654ae6b,
  trackEntry: 0xae,
  audio: 0xe1,
  cluster: 0x1f43b675,
  blockGroup: 0xa0,
  trackNumber: 0xd7,
  codecId: 0x86,
  codecPrivate: 0x63a2,
  channels: 0x9f,
  simpleBlock: 0xa3,
  block: 0xa1,
};
/** Elements whose contents are read one after the other, as if they stood on their own. */
const OPENED = new Set([ID.segment, ID.tracks, ID.trackEntry, ID.audio, ID.cluster, ID.blockGroup]);
const LACED = 0x06;
const USUAL_PRE_SKIP = 312;

/**
 * Takes the Opus packets out of a WebM file. It only ever goes forward, so that a damaged file ends early and never
 * leads in circles; sizes left open by a recorder that was still running need no special care.
 *
 * @param mostPackets  reading ends one packet after so many
 * @returns undefined where there is no Opus track
 * Source of the layout: RFC 8794 (EBML), RFC 9559 (Matroska), and the Opus mapping in its section on codecs.
 */
export function readWebmOpus(
  bytes: Uint8Array,
  mostPackets = Number.POSITIVE_INFINITY,
): WebmOpus | undefined {
  const tracks: { number: number; codec: string; head?: Uint8Array; channels: number }[] = [];
  const blocks: { track: number; data: Uint8Array }[] = [];
  let at = 0;
  while (at < bytes.length && blocks.length <= mostPackets) {
    const id = readVint(bytes, at, true);
    const size = id && readVint(bytes, at + id.length, false);
    if (!id || !size) break;
    const from = at + id.length + size.length;
    if (id.value === ID.trackEntry) tracks.push({ number: 0, codec: "", channels: 1 });
    if (OPENED.has(id.value)) {
      at = from;
      continue;
    }
    const to = Math.min(bytes.length, from + size.value);
    const body = bytes.subarray(from, to);
    const track = tracks.at(-1);
    if (track && id.value === ID.trackNumber) track.number = unsigned(body);
    else if (track && id.value === ID.codecId) track.codec = String.fromCharCode(...body.subarray(0, 32));
    else if (track && id.value === ID.codecPrivate) track.head = body;
    else if (track && id.value === ID.channels) track.channels = unsigned(body);
    else if (id.value === ID.simpleBlock || id.value === ID.block) {
      const number = readVint(body, 0, false);
      // After the track's number: two bytes of time, one of flags.
      if (number && !(body[number.length + 2]! & LACED))
        blocks.push({ track: number.value, data: body.subarray(number.length + 3) });
    }
    at = Math.max(at + 1, to);
  }
  const opus = tracks.find((track) => track.codec.startsWith("A_OPUS"));
  if (!opus) return undefined;
  const { head } = opus;
  return {
    channels: head && (head[9] === 1 || head[9] === 2) ? head[9] : opus.channels === 2 ? 2 : 1,
    preSkip: head && head.length >= 12 ? head[10]! + 256 * head[11]! : USUAL_PRE_SKIP,
    packets: blocks
      .filter((block) => block.track === opus.number && block.data.length > 0)
      .map((block) => block.data),
  };
}

/** A number of variable length: the leading zeros of its first byte tell how many follow. Open sizes read as very large. */
function readVint(
  bytes: Uint8Array,
  at: number,
  keepsMarker: boolean,
): { value: number; length: number } | undefined {
  const first = bytes[at];
  if (!first) return undefined;
  const length = Math.clz32(first) - 23;
  if (length > 8 || at + length > bytes.length) return undefined;
  let value = keepsMarker ? first : first & (0xff >> length);
  for (let i = 1; i < length; i++) value = value * 256 + bytes[at + i]!;
  return { value, length };
}

function unsigned(body: Uint8Array): number {
  return body.subarray(0, 6).reduce((value, byte) => value * 256 + byte, 0);
}
