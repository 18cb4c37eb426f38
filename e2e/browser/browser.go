// Package browser drives Debian's Chromium, without a window and without a
// network, over the real pages of a running Step Trace.
package browser

import (
	"context"
	"errors"
	"fmt"
	"os"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"
)

// Tab is one browser tab. Every step waits for what it needs, up to the tab's
// patience.
type Tab struct {
	ctx   context.Context
	Close func()
	heard *heard
}

// heard is what went wrong in a page, as its console has it.
type heard struct {
	mu    sync.Mutex
	wrong []string
}

// Wrong lists what went wrong in the tab's pages so far: exceptions, promises that were
// rejected, errors written to the console, answers of the server that speak of a mistake
// of its own. That a request is refused, or nobody answers, is no mistake of a page.
func (t *Tab) Wrong() []string {
	t.heard.mu.Lock()
	defer t.heard.mu.Unlock()
	return slices.Clone(t.heard.wrong)
}

// listen takes down what the console says.
func listen(ctx context.Context) *heard {
	h := &heard{}
	messages := chromedp.Console(ctx)
	go func() {
		for m, err := range messages {
			if err != nil {
				return
			}
			network := m.Source == "network"
			if !m.IsException() && m.Type != chromedp.ConsoleError || network && !strings.Contains(m.Text, "status of 500") {
				continue
			}
			h.mu.Lock()
			h.wrong = append(h.wrong, fmt.Sprintf("%s (%s:%d)", m, m.URL, m.Line))
			h.mu.Unlock()
		}
	}()
	return h
}

// patience is how long a step may take; a busy machine with two cores is slow.
const patience = 20 * time.Second

// Open starts a browser with one tab of a size in pixels. Its microphone beeps, or plays
// the WAV that is given, over and over. One that dies as it starts, as happens now and then
// beside much other work, is started again.
func Open(width, height int, microphone ...string) (t *Tab, err error) {
	const tries = 3
	for range tries {
		if t, err = start(width, height, microphone); err == nil {
			return t, nil
		}
	}
	return nil, err
}

func start(width, height int, microphone []string) (*Tab, error) {
	dir, err := os.MkdirTemp("", "steptrace-browser")
	if err != nil {
		return nil, err
	}
	options := append(
		chromedp.DefaultExecAllocatorOptions[:],
		chromedp.NoSandbox,
		chromedp.DisableGPU,
		chromedp.UserDataDir(dir),
		chromedp.WindowSize(width, height),
		chromedp.Flag("disable-quic", true),
		chromedp.Flag("no-pings", true),
		chromedp.Flag("disable-component-update", true),
		chromedp.Flag("disable-domain-reliability", true),
		chromedp.Flag("no-proxy-server", true),
		chromedp.Flag("hide-scrollbars", true),
		chromedp.Flag(
			"host-resolver-rules",
			// By a name that is not the machine's own loopback, its pages are asked for as from the network.
			"MAP bench.test 127.0.0.1, MAP * ~NOTFOUND, EXCLUDE 127.0.0.1, EXCLUDE localhost",
		),
		chromedp.Flag("force-device-scale-factor", "1"),
		// A microphone allowed without asking, and an output that plays into nothing.
		chromedp.Flag(
			"use-fake-device-for-media-stream",
			true,
		),
		chromedp.Flag("use-fake-ui-for-media-stream", true),
		chromedp.Flag("autoplay-policy", "no-user-gesture-required"),
	)
	for _, path := range microphone {
		options = append(options, chromedp.Flag("use-file-for-fake-audio-capture", path))
	}
	allocator, endAllocator := chromedp.NewExecAllocator(context.Background(), options...)
	ctx, end := chromedp.NewContext(allocator)
	t := &Tab{ctx: ctx, Close: func() {
		end()
		endAllocator()
		_ = os.RemoveAll(dir) // the browser may still be letting go of it
	}}
	// The first call starts the browser and must not carry a time limit.
	if err := chromedp.Do(ctx, chromedp.EmulateViewport(int64(width), int64(height))); err != nil {
		t.Close()
		return nil, fmt.Errorf("no browser: %w. Debian's chromium has to be installed; make test does that", err)
	}
	t.heard = listen(ctx)
	return t, nil
}

// Another opens a second tab in the same browser.
func (t *Tab) Another() (*Tab, error) {
	ctx, end := chromedp.NewContext(t.ctx)
	if err := chromedp.Do(ctx); err != nil {
		end()
		return nil, err
	}
	return &Tab{ctx: ctx, Close: end, heard: listen(ctx)}, nil
}

func (t *Tab) do(steps ...chromedp.Action[chromedp.Void]) error {
	ctx, cancel := context.WithTimeout(t.ctx, patience)
	defer cancel()
	return chromedp.Do(ctx, steps...)
}

// Go opens an address, or reloads it.
func (t *Tab) Go(url string) error { return t.do(chromedp.Navigate(url)) }

// Reload loads the page again.
func (t *Tab) Reload() error { return t.do(chromedp.Reload()) }

// Resize changes the size of the page in pixels.
func (t *Tab) Resize(width, height int) error {
	return t.do(chromedp.EmulateViewport(int64(width), int64(height)))
}

// Click presses what a CSS selector finds, once it can be seen.
func (t *Tab) Click(selector string) error {
	if err := t.do(chromedp.Click(chromedp.CSS(selector), chromedp.NodeVisible)); err != nil {
		return fmt.Errorf("click %s: %w", selector, err)
	}
	return nil
}

// Button presses the visible button or link with the given text.
func (t *Tab) Button(text string) error {
	return t.until(fmt.Sprintf(`(() => {
		const b = [...document.querySelectorAll('button, a')].find((b) => b.innerText.trim().replace(/\s+\w$/, '') === %[1]q || b.innerText.trim() === %[1]q);
		if (!b || b.disabled || b.offsetParent === null && !b.closest('dialog[open]')) return false;
		b.click();
		return true;
	})()`, text), "button "+text)
}

// Keys types keys as a keyboard does, to whatever has the focus.
func (t *Tab) Keys(keys string) error { return t.do(chromedp.KeyEvent(keys)) }

// Fill replaces the text of a field, and lets the page know.
func (t *Tab) Fill(selector, text string) error {
	return t.until(fmt.Sprintf(`(() => {
		const f = document.querySelector(%q);
		if (!f) return false;
		const set = Object.getOwnPropertyDescriptor(Object.getPrototypeOf(f), 'value').set;
		set.call(f, %q);
		f.dispatchEvent(new Event('input', { bubbles: true }));
		f.dispatchEvent(new Event('change', { bubbles: true }));
		return true;
	})()`, selector, text), "field "+selector)
}

// Write replaces the text of the field with a label, in the open dialog where
// there is one.
func (t *Tab) Write(label, text string) error {
	mark := `[data-written="` + label + `"]`
	err := t.until(fmt.Sprintf(`(() => {
		const root = document.querySelector('dialog[open]') ?? document;
		const l = [...root.querySelectorAll('label')].find((l) => l.innerText.trim().startsWith(%q));
		l?.querySelector('input, textarea')?.setAttribute('data-written', %q);
		return l !== undefined;
	})()`, label, label), "label "+label)
	if err != nil {
		return err
	}
	return t.Fill(mark, text)
}

// Upload gives a file to a file field, as choosing it in the dialog does.
func (t *Tab) Upload(selector, path string) error {
	if err := t.do(chromedp.SetUploadFiles(chromedp.CSS(selector), []string{path}, chromedp.NodeReady)); err != nil {
		return fmt.Errorf("upload to %s: %w", selector, err)
	}
	return nil
}

// Choose picks the option of a list whose text contains the given one. A list
// that has only just come up may still be set by the page: it is chosen again
// until the choice holds.
func (t *Tab) Choose(selector, text string) error {
	choose := fmt.Sprintf(`(() => {
		const s = document.querySelector(%q);
		const o = s && [...s.options].find((o) => o.text.includes(%q));
		if (!o) return false;
		if (s.dataset.chosen === o.value && s.value === o.value) return true;
		s.dataset.chosen = s.value = o.value;
		s.dispatchEvent(new Event('change', { bubbles: true }));
		return false;
	})()`, selector, text)
	return t.until(choose, "option "+text)
}

// See waits until the page shows a text.
func (t *Tab) See(text string) error {
	return t.until(fmt.Sprintf("document.body.innerText.replace(/\\s+/g, ' ').includes(%q)", text), "text "+text)
}

// Until waits until a JavaScript expression is true.
func (t *Tab) Until(expression string) error { return t.until(expression, expression) }

func (t *Tab) until(expression, what string) error {
	deadline := time.Now().Add(patience)
	for {
		ok, err := Ask[bool](t, expression)
		if ok {
			return nil
		}
		if time.Now().After(deadline) {
			text, _ := Ask[string](t, "document.body.innerText")
			return errors.Join(fmt.Errorf("waited in vain for %s; the page says:\n%s", what, clip(text)), err)
		}
		time.Sleep(30 * time.Millisecond)
	}
}

func clip(text string) string {
	return strings.TrimSpace(text[:min(len(text), 2500)])
}

// Ask evaluates a JavaScript expression in the page.
func Ask[T any](t *Tab, expression string) (T, error) {
	ctx, cancel := context.WithTimeout(t.ctx, patience)
	defer cancel()
	return chromedp.Run(ctx, chromedp.Evaluate[T](expression))
}

// Picture takes a PNG of what the tab shows.
func (t *Tab) Picture() ([]byte, error) {
	ctx, cancel := context.WithTimeout(t.ctx, patience)
	defer cancel()
	return chromedp.Run(ctx, chromedp.CaptureScreenshot())
}

// PDF prints what the tab shows, on the paper that the page asks for.
func (t *Tab) PDF() ([]byte, error) {
	ctx, cancel := context.WithTimeout(t.ctx, patience)
	defer cancel()
	own := true
	return chromedp.Run(ctx, func(ctx context.Context, at *chromedp.Target) ([]byte, error) {
		answer, err := cdp.Call(ctx, at, page.PrintToPDF, page.PrintToPDFParams{PreferCSSPageSize: &own})
		return answer.Data, err
	})
}
