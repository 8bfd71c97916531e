import { parentPort } from "node:worker_threads";
import { VerovioToolkit } from "verovio/esm";
import createVerovioModule from "verovio/wasm";
import type { EngraveRequest, EngravingWidth } from "../server/engrave";

/** Page widths in Verovio's units (tenths of a millimetre); a staff space is 18 of them, whatever the page is shown at. */
const PAGE_WIDTHS: Record<EngravingWidth, number> = {
  "phone-large": 580,
  phone: 790,
  narrow: 1000,
  medium: 1750,
  wide: 2100,
};

const toolkit = createVerovioModule().then((module: unknown) => new VerovioToolkit(module));

parentPort!.on("message", async ({ musicXml, width }: EngraveRequest) => {
  try {
    const verovio = await toolkit;
    verovio.setOptions({
      inputFrom: "musicxml",
      pageWidth: PAGE_WIDTHS[width],
      pageHeight: 60000,
      adjustPageHeight: true,
      pageMarginLeft: 20,
      pageMarginRight: 20,
      pageMarginTop: 40,
      staffLineWidth: 0.2,
      pageMarginBottom: 20,
      scale: 45,
      breaks: "auto",
      footer: "none",
      header: "none",
      svgViewBox: true,
      spacingSystem: 6,
      xmlIdSeed: 1,
      mnumInterval: 0,
    });
    if (!verovio.loadData(musicXml)) throw new Error("The engraver could not read this part");
    parentPort!.postMessage({ answer: closeUp(raiseTempoMarks(verovio.renderToSVG(1))) });
  } catch (error) {
    parentPort!.postMessage({ problem: (error as Error).message });
  }
});

/** Verovio sets a tempo mark so low that it touches the time signature: lifts it by one staff space (180 of its units). */
function raiseTempoMarks(svg: string): string {
  return svg.replaceAll('class="tempo"', 'class="tempo" transform="translate(0 -180)"');
}

/** Verovio indents every element: four fifths of a picture are blanks, of which a browser shows one. */
function closeUp(svg: string): string {
  return svg.replaceAll(/\s*\n\s*/g, " ");
}
