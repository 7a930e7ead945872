// Package browser drives headless Chromium as a person would, for the tests and
// for the pictures in the documentation.
package browser

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"os/exec"
	"slices"
	"strings"
	"time"

	"github.com/chromedp/cdproto/browser"
	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/cdproto/webauthn"
	"github.com/chromedp/chromedp"
)

// Path finds Chromium, or says what to install.
func Path() (string, error) {
	for _, name := range []string{"chromium", "chromium-browser", "google-chrome"} {
		if p, err := exec.LookPath(name); err == nil {
			return p, nil
		}
	}
	return "", errors.New("Chromium is not installed; on Debian: apt-get install chromium")
}

// answersWithin is how long a click waits for answers under way.
const answersWithin = 4 * time.Second

// Chromium is a running program in which people sit side by side.
type Chromium struct{ ctx context.Context }

// Browser is one person's: cookies, storage and a window of their own.
type Browser struct {
	ctx  context.Context
	Acts int
	// Patience is how long a condition may take.
	Patience time.Duration
}

// unused are parts of the program around the page that take as long to start as a page, in every
// window, and are never seen here.
const unused = "Translate,BlinkGenPropertyTrees,WebUIOmniboxPopup,WebUIOmniboxAimPopup,WebUIOmniboxFullPopup,PreloadTopChromeWebUI,SpareRendererForSitePerProcess"

// Start starts Chromium; end closes it.
func Start(ctx context.Context) (*Chromium, func(), error) {
	path, err := Path()
	if err != nil {
		return nil, nil, err
	}
	opts := append(chromedp.DefaultExecAllocatorOptions[:], chromedp.ExecPath(path), chromedp.NoSandbox, chromedp.DisableGPU,
		chromedp.Flag("disable-quic", true), chromedp.Flag("no-first-run", true), chromedp.Flag("disable-background-networking", true),
		chromedp.Flag("disable-component-update", true), chromedp.Flag("disable-sync", true), chromedp.Flag("lang", "en"), chromedp.Flag("disable-features", unused),
		// Calls: devices that are none, given without asking, and ways over the loopback alone.
		chromedp.Flag("use-fake-device-for-media-stream", true), chromedp.Flag("use-fake-ui-for-media-stream", true), chromedp.Flag("allow-loopback-in-peer-connection", true))
	alloc, endAlloc := chromedp.NewExecAllocator(ctx, opts...)
	first, endFirst := chromedp.NewContext(alloc)
	end := func() {
		endFirst()
		endAlloc()
	}
	if err := chromedp.Do(first); err != nil {
		end()
		return nil, nil, fmt.Errorf("starting Chromium: %w", err)
	}
	return &Chromium{first}, end, nil
}

// Sit is somebody at a fresh browser; end closes it.
func (c *Chromium) Sit(width, height int64) (*Browser, func(), error) {
	tab, end := chromedp.NewContext(c.ctx, chromedp.WithNewBrowserContext())
	b := &Browser{ctx: tab, Patience: 90 * time.Second}
	if err := chromedp.Do(tab, chromedp.EmulateViewport(width, height)); err != nil {
		end()
		return nil, nil, fmt.Errorf("opening a window: %w", err)
	}
	// Every window believes that it is the one in front.
	if _, err := chromedp.Call(tab, emulation.SetFocusEmulationEnabled, emulation.SetFocusEmulationEnabledParams{Enabled: true}); err != nil {
		end()
		return nil, nil, fmt.Errorf("bringing a window to the front: %w", err)
	}
	if _, err := chromedp.Call(tab, page.AddScriptToEvaluateOnNewDocument, page.AddScriptToEvaluateOnNewDocumentParams{Source: countAsked}); err != nil {
		end()
		return nil, nil, fmt.Errorf("counting what pages ask for: %w", err)
	}
	return b, end, nil
}

// Copied is what the page has copied last. All windows share one clipboard; what is in it may be
// another's.
func (b *Browser) Copied() (string, error) {
	if err := b.Until("window.copied"); err != nil {
		return "", err
	}
	return Eval[string](b, "window.copied")
}

// Downloads lets what is downloaded go to a folder.
func (b *Browser) Downloads(folder string) error {
	own := chromedp.FromContext(b.ctx).BrowserContextID
	_, err := chromedp.CallBrowser(b.ctx, browser.SetDownloadBehavior, browser.SetDownloadBehaviorParams{Behavior: browser.SetDownloadBehaviorBehaviorAllow, BrowserContextID: own, DownloadPath: folder})
	return err
}

// countAsked is JavaScript that notes what a page copies, counts what it has asked for and not yet
// been answered, and notes the last answer, so that a click can wait for what would
// move under it. What somebody did comes back as news a moment after its answer.
const countAsked = `(() => {
	const ask = window.fetch
	window.asked = window.answered = 0
	window.fetch = (...wish) => { window.asked++; return ask(...wish).finally(() => { window.asked--; window.answered = performance.now() }) }
	const board = navigator.clipboard
	if (!board) return
	const text = board.writeText.bind(board), write = board.write.bind(board)
	board.writeText = what => { window.copied = what; return text(what) }
	board.write = all => { void all[0].getType('text/plain').then(b => b.text()).then(what => window.copied = what); return write(all) }
})()`

// Dark asks pages for their dark look, or their light one.
func (b *Browser) Dark(dark bool) error {
	scheme := map[bool]string{true: "dark", false: "light"}[dark]
	_, err := chromedp.Call(b.ctx, emulation.SetEmulatedMedia, emulation.SetEmulatedMediaParams{Features: []*emulation.MediaFeature{{Name: "prefers-color-scheme", Value: scheme}}})
	return err
}

// ForcedColours shows pages in the few colours that a person chose for all of them.
func (b *Browser) ForcedColours() error {
	_, err := chromedp.Call(b.ctx, emulation.SetEmulatedMedia, emulation.SetEmulatedMediaParams{Features: []*emulation.MediaFeature{{Name: "forced-colors", Value: "active"}}})
	return err
}

// Authenticator plugs in a device for passkeys that knows its holder and says
// yes to everything.
func (b *Browser) Authenticator() error {
	if _, err := chromedp.Call(b.ctx, webauthn.Enable, webauthn.EnableParams{}); err != nil {
		return fmt.Errorf("letting devices be plugged in: %w", err)
	}
	_, err := chromedp.Call(b.ctx, webauthn.AddVirtualAuthenticator, webauthn.AddVirtualAuthenticatorParams{Options: &webauthn.VirtualAuthenticatorOptions{
		Protocol: webauthn.AuthenticatorProtocolCtap2, Transport: webauthn.AuthenticatorTransportInternal,
		HasResidentKey: true, HasUserVerification: true, IsUserVerified: true, AutomaticPresenceSimulation: true}})
	return err
}

// Go opens an address.
func (b *Browser) Go(url string) error {
	if err := chromedp.Do(b.ctx, chromedp.Navigate(url)); err != nil {
		return fmt.Errorf("opening %s: %w", url, err)
	}
	return nil
}

// find is JavaScript that finds what a person means: a CSS selector with an
// optional text after "::", which must be in the element or its label. Only
// what can be seen is found.
const find = `(s => { const [css, text] = s.split('::'); return [...document.querySelectorAll(css)].find(e => { const r = e.getBoundingClientRect(); const t = [e.innerText, e.getAttribute('aria-label'), e.value, e.title, e.placeholder].join(' '); return r.width > 0 && r.height > 0 && (!text || t.includes(text)) }) })`

func quoted(s string) string {
	b, _ := json.Marshal(s)
	return string(b)
}

// Eval returns the value of a JavaScript expression.
func Eval[T any](b *Browser, expression string) (T, error) {
	return chromedp.Run(b.ctx, chromedp.Evaluate[T](expression))
}

// Until waits for a JavaScript condition.
func (b *Browser) Until(condition string) error {
	deadline := time.Now().Add(b.Patience)
	// Asking costs the page time, which it needs where it takes long.
	for pause := 20 * time.Millisecond; ; pause = min(pause+10*time.Millisecond, 120*time.Millisecond) {
		ok, err := Eval[bool](b, `!!(`+condition+`)`)
		if ok && err == nil {
			return nil
		}
		if time.Now().After(deadline) {
			text, _ := Eval[string](b, `location.pathname + ': ' + document.body.innerText.slice(0, 900)`)
			return fmt.Errorf("waiting for %s: %v; the page says %s", condition, err, strings.ReplaceAll(text, "\n", " | "))
		}
		time.Sleep(pause)
	}
}

// See waits until something can be seen: a selector, optionally "::text".
func (b *Browser) See(what string) error { return b.Until(find + `(` + quoted(what) + `)`) }

// SeeText waits until the page shows a text.
func (b *Browser) SeeText(text string) error {
	return b.Until(`document.body.innerText.includes(` + quoted(text) + `)`)
}

// Gone waits until something can no longer be seen.
func (b *Browser) Gone(what string) error { return b.Until(`!` + find + `(` + quoted(what) + `)`) }

// Click clicks as with a mouse, in the middle of what is named. One act.
func (b *Browser) Click(what string) error { return b.click(what) }

// RightClick clicks with the other button. One act.
func (b *Browser) RightClick(what string) error {
	return b.click(what, chromedp.ButtonType(input.MouseButtonRight))
}

// Stroke draws with the mouse from one point of what is named to another, in parts of its width and height. One act.
func (b *Browser) Stroke(what string, fromX, fromY, toX, toY float64) error {
	if err := b.See(what); err != nil {
		return err
	}
	r, err := Eval[[]float64](b, `(e => { const r = e.getBoundingClientRect(); return [r.x, r.y, r.width, r.height] })(`+find+`(`+quoted(what)+`))`)
	if err != nil || len(r) != 4 {
		return fmt.Errorf("drawing on %s: %w", what, err)
	}
	b.Acts++
	const steps = 4
	mouse := func(kind input.DispatchMouseEventType, part float64, held int64) error {
		at := input.DispatchMouseEventParams{Type: kind, X: r[0] + r[2]*(fromX+(toX-fromX)*part), Y: r[1] + r[3]*(fromY+(toY-fromY)*part), Button: input.MouseButtonLeft, Buttons: held, ClickCount: 1}
		_, err := chromedp.Call(b.ctx, input.DispatchMouseEvent, at)
		return err
	}
	err = mouse(input.DispatchMouseEventTypeMousePressed, 0, 1)
	for i := range steps {
		err = errors.Join(err, mouse(input.DispatchMouseEventTypeMouseMoved, float64(i+1)/steps, 1))
	}
	return errors.Join(err, mouse(input.DispatchMouseEventTypeMouseReleased, 1, 0))
}

// Touches makes it a device that is used by fingers.
func (b *Browser) Touches() error {
	_, err := chromedp.Call(b.ctx, emulation.SetTouchEmulationEnabled, emulation.SetTouchEmulationEnabledParams{Enabled: true})
	return err
}

// Tap touches what is named. One act.
func (b *Browser) Tap(what string) error { return b.touch(what, func() error { return nil }) }

// Hold rests a finger on what is named until something can be seen. One act.
func (b *Browser) Hold(what, until string) error {
	return b.touch(what, func() error { return b.See(until) })
}

func (b *Browser) touch(what string, meanwhile func() error) error {
	at, err := b.aim(what)
	if err != nil {
		return err
	}
	put := input.DispatchTouchEventParams{Type: input.DispatchTouchEventTypeTouchStart, TouchPoints: []*input.TouchPoint{{X: at[0], Y: at[1]}}}
	if _, err := chromedp.Call(b.ctx, input.DispatchTouchEvent, put); err != nil {
		return fmt.Errorf("touching %s: %w", what, err)
	}
	if err := meanwhile(); err != nil {
		return err
	}
	_, err = chromedp.Call(b.ctx, input.DispatchTouchEvent, input.DispatchTouchEventParams{Type: input.DispatchTouchEventTypeTouchEnd, TouchPoints: []*input.TouchPoint{}})
	return err
}

func (b *Browser) click(what string, opts ...chromedp.MouseOption) error {
	at, err := b.aim(what)
	if err != nil {
		return err
	}
	// Between aiming and clicking a page can move; a person would see it and aim again.
	for deadline := time.Now().Add(b.Patience); ; {
		if _, err := Eval[bool](b, guarded+`(`+quoted(what)+`)`); err != nil {
			return fmt.Errorf("aiming at %s: %w", what, err)
		}
		if err := chromedp.Do(b.ctx, chromedp.MouseClickXY(at[0], at[1], opts...)); err != nil {
			return fmt.Errorf("clicking %s: %w", what, err)
		}
		// A page that a click has left knows nothing of it.
		missed, _ := Eval[bool](b, `window.unguard?.() === true`)
		if !missed {
			return nil
		}
		if time.Now().After(deadline) {
			return fmt.Errorf("%s is missed again and again", what)
		}
		if at, err = b.still(what); err != nil {
			return err
		}
	}
}

// guarded is JavaScript that lets the next click reach nothing but what is named; unguard
// ends that and tells whether it has missed.
const guarded = `(s => {
	const kinds = ['pointerdown', 'mousedown', 'pointerup', 'mouseup', 'click', 'auxclick', 'contextmenu']
	let missed = false
	const guard = e => {
		if (e.type === 'pointerdown') {
			const aimed = ` + find + `(s)
			missed = !!aimed && !aimed.contains(e.target) && !e.target.contains(aimed)
		}
		if (missed) { e.stopImmediatePropagation(); e.preventDefault() }
	}
	for (const k of kinds) addEventListener(k, guard, true)
	window.unguard = () => { for (const k of kinds) removeEventListener(k, guard, true); delete window.unguard; return missed }
	return true })`

// aim is where an act meets what is named, and counts the act.
func (b *Browser) aim(what string) ([]float64, error) {
	if err := b.See(what); err != nil {
		return nil, err
	}
	at, err := b.still(what)
	if err == nil {
		b.Acts++
	}
	return at, err
}

// still waits until what is named can be used, stands still and is what a
// click in its middle meets, and returns that point. What says of itself that
// it is still being written (aria-busy) is not yet still; while the page waits
// for answers, which may move it, some time is given to them.
func (b *Browser) still(what string) ([]float64, error) {
	where := `(e => { if (!e || e.disabled || e.closest('[aria-busy=true]')) return []; e.scrollIntoView({block: 'nearest'}); const r = e.getBoundingClientRect(); const x = r.x + r.width / 2, y = r.y + r.height / 2; const met = document.elementFromPoint(x, y); return met && (e.contains(met) || met.contains(e)) ? [x, y] : [] })(` + find + `(` + quoted(what) + `))`
	deadline, settled := time.Now().Add(b.Patience), time.Now().Add(answersWithin)
	var before []float64
	for {
		at, err := Eval[[]float64](b, where)
		if err == nil && len(at) == 2 && slices.Equal(at, before) {
			waits, _ := Eval[bool](b, `window.asked > 0 || performance.now() - window.answered < 150`)
			if !waits || time.Now().After(settled) {
				return at, nil
			}
		}
		if time.Now().After(deadline) {
			return nil, fmt.Errorf("%s does not come to rest where it can be clicked (at %v): %w", what, at, err)
		}
		before = at
		time.Sleep(25 * time.Millisecond)
	}
}

// Type puts a text into a field in place of what is there. One act, together
// with the click that goes to the field.
func (b *Browser) Type(what, text string) error {
	if err := b.See(what); err != nil {
		return err
	}
	if _, err := Eval[bool](b, `(e => { e.focus(); e.select?.(); return true })(`+find+`(`+quoted(what)+`))`); err != nil {
		return err
	}
	b.Acts++
	_, err := chromedp.Call(b.ctx, input.InsertText, input.InsertTextParams{Text: text})
	return err
}

// Pick picks the option of a list whose words contain a text. One act.
func (b *Browser) Pick(what, option string) error {
	if err := b.Until(`(s => s && [...s.options].some(o => o.text.includes(` + quoted(option) + `)))(` + find + `(` + quoted(what) + `))`); err != nil {
		return err
	}
	b.Acts++
	_, err := Eval[bool](b, `(s => { s.value = [...s.options].find(o => o.text.includes(`+quoted(option)+`)).value; s.dispatchEvent(new Event('change', {bubbles: true})); return true })(`+find+`(`+quoted(what)+`))`)
	return err
}

// Back goes back to where one was before. One act.
func (b *Browser) Back() error {
	b.Acts++
	return chromedp.Do(b.ctx, chromedp.NavigateBack())
}

// Enter presses the Enter key, as one event: what a page does itself with it is not done a second time by the browser. One act.
func (b *Browser) Enter() error {
	b.Acts++
	key := input.DispatchKeyEventParams{Type: input.DispatchKeyEventTypeKeyDown, Key: "Enter", Code: "Enter", WindowsVirtualKeyCode: 13, Text: "\r"}
	if _, err := chromedp.Call(b.ctx, input.DispatchKeyEvent, key); err != nil {
		return err
	}
	key.Type, key.Text = input.DispatchKeyEventTypeKeyUp, ""
	_, err := chromedp.Call(b.ctx, input.DispatchKeyEvent, key)
	return err
}

// Press presses a key. One act.
func (b *Browser) Press(key string) error {
	b.Acts++
	return chromedp.Do(b.ctx, chromedp.KeyEvent(key))
}

// Command presses a key together with Ctrl. One act.
func (b *Browser) Command(key string) error {
	b.Acts++
	return chromedp.Do(b.ctx, chromedp.KeyEvent(key, chromedp.KeyModifiers(chromedp.ModifierCtrl)))
}

// Extend presses a key together with Shift. One act.
func (b *Browser) Extend(key string) error {
	b.Acts++
	return chromedp.Do(b.ctx, chromedp.KeyEvent(key, chromedp.KeyModifiers(chromedp.ModifierShift)))
}

// Choose gives files to a file field. One act, the dialog being the system's.
func (b *Browser) Choose(what string, paths ...string) error {
	b.Acts++
	return chromedp.Do(b.ctx, chromedp.SetUploadFiles(chromedp.CSS(what), paths))
}

// Picture takes a picture of the window as PNG.
func (b *Browser) Picture() ([]byte, error) {
	return chromedp.Run(b.ctx, chromedp.CaptureScreenshot())
}
