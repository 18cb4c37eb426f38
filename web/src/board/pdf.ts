// A manual's pages, drawn by the library for that. It is fetched when the first PDF is opened.
import type { PDFDocumentProxy, PDFPageProxy } from 'pdfjs-dist';
import worker from 'pdfjs-dist/build/pdf.worker.min.mjs?url';

async function library() {
  const pdf = await import('pdfjs-dist');
  pdf.GlobalWorkerOptions.workerSrc = worker;
  return pdf;
}

/** What is wrong with a PDF, and what to do about it. */
export function saidOf(error: unknown): string {
  switch (error instanceof Error ? error.name : '') {
    case 'PasswordException':
      return 'This PDF is locked with a password. Save it without one in the program that opens it, and take that.';
    case 'InvalidPDFException':
      return 'This PDF is damaged: no page of it can be shown. Take it in again, or its pages as pictures.';
    default:
      return `This page cannot be shown (${error instanceof Error ? error.message : String(error)}). Take it in as a picture.`;
  }
}

// The last few stay open: the page at the bench and the one beside it are of the same manual.
const open = new Map<string, Promise<PDFDocumentProxy>>();
const kept = 2;

function document(url: string): Promise<PDFDocumentProxy> {
  let it = open.get(url);
  if (!it) {
    it = library().then(
      (pdf) =>
        pdf.getDocument({
          url,
          cMapUrl: './pdf/cmaps/',
          cMapPacked: true,
          standardFontDataUrl: './pdf/fonts/',
          wasmUrl: './pdf/wasm/',
          isEvalSupported: false,
          enableXfa: false,
        }).promise,
    );
    it.catch(() => open.delete(url));
    open.set(url, it);
    for (const [old, document] of open) {
      if (open.size <= kept) break;
      open.delete(old);
      void document.then((d) => d.loadingTask.destroy()).catch(() => undefined); // broken ones have nothing to let go of
    }
  }
  return it;
}

/** How many pages a PDF has. */
export const pagesOf = async (url: string) => (await document(url)).numPages;

/** A page, its size in its own units, and a way to draw it. */
export class PdfPage {
  private constructor(
    private readonly page: PDFPageProxy,
    readonly width: number,
    readonly height: number,
  ) {}

  static async of(url: string, number: number): Promise<PdfPage> {
    const page = await (await document(url)).getPage(number);
    const { width, height } = page.getViewport({ scale: 1 });
    return new PdfPage(page, width, height);
  }

  /** Draws it so many pixels wide. */
  async draw(canvas: HTMLCanvasElement, wide: number): Promise<void> {
    const viewport = this.page.getViewport({ scale: wide / this.width });
    canvas.width = Math.round(viewport.width);
    canvas.height = Math.round(viewport.height);
    await this.page.render({ canvas, viewport }).promise;
  }
}
