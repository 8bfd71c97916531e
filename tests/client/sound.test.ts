import { describe, expect, it } from "vitest";
import { howToAllow } from "../../src/client/sound";

describe("a microphone that was refused", () => {
  it("is allowed again in the words of the device in hand", () => {
    const said = [
      "Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) AppleWebKit/605.1.15 Version/18.0 Mobile Safari/604.1",
      "Mozilla/5.0 (Linux; Android 14) AppleWebKit/537.36 Chrome/140.0 Mobile Safari/537.36",
      "Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0",
      "Mozilla/5.0 (Macintosh; Intel Mac OS X 10_15_7) AppleWebKit/605.1.15 Version/18.0 Safari/605.1.15",
      "Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 Chrome/140.0 Safari/537.36",
    ].map(howToAllow);
    expect(new Set(said).size).toBe(5);
    for (const sentence of said) expect(sentence).toMatch(/icrophone/);
  });
});
