// Package browser drives the interface in headless Chromium as a person would: by labels, roles and text.
package browser

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/launcher"
	"github.com/go-rod/rod/lib/launcher/flags"
	"github.com/go-rod/rod/lib/proto"
)

// Page is one page, with a count of what a person's hands did on it. Its methods fail by panicking with
// words that say what was looked for; tests and the shots let that stop them.
type Page struct {
	*rod.Page
	browser *rod.Browser
	Clicks  int
	Keys    int
}

// Patience is how long a person waits for something to show: far longer than it takes, for a busy machine.
const Patience = 60 * time.Second

// Open starts Chromium and opens an address at the design size.
func Open(url string) (*Page, error) {
	l := launcher.New().Bin("/usr/bin/chromium").NoSandbox(true).Leakless(false).Headless(true)
	for _, f := range []string{"disable-gpu", "disable-quic", "no-first-run", "disable-background-networking",
		"disable-component-update", "disable-sync"} {
		l = l.Set(flags.Flag(f))
	}
	control, err := l.Launch()
	if err != nil {
		return nil, fmt.Errorf("chromium (apt-get install chromium): %w", err)
	}
	b := rod.New().ControlURL(control)
	if err := b.Connect(); err != nil {
		return nil, err
	}
	p, err := b.Page(proto.TargetCreateTarget{URL: url})
	if err != nil {
		return nil, err
	}
	if err := p.SetViewport(&proto.EmulationSetDeviceMetricsOverride{Width: 1280, Height: 800,
		DeviceScaleFactor: 1}); err != nil {
		return nil, err
	}
	page := &Page{Page: p, browser: b}
	go p.EachEvent(func(*proto.PageJavascriptDialogOpening) {
		_ = proto.PageHandleJavaScriptDialog{Accept: true}.Call(p) // a page with a draft asks before it is left
	})()
	return page, nil
}

// Upload chooses a file for a file field, by the label around it.
func (p *Page) Upload(label, path string) {
	p.Clicks++
	const chooser = `l => [...document.querySelectorAll('input[type=file]')].find(e => e.labels[0].textContent.includes(l)) || null`
	e, err := p.Timeout(Patience).ElementByJS(rod.Eval(chooser, label))
	p.must(err, "find "+label)
	p.must(e.SetFiles([]string{path}), "choose a file for "+label)
}

// labelled is JavaScript that finds what has a label of its own that begins so.
const labelled = `l => [...document.querySelectorAll('[aria-label]')].find(e => e.getAttribute('aria-label').startsWith(l)) || null`

// Focus puts the focus on an element by the beginning of its label, as tabbing to it would.
func (p *Page) Focus(label string) {
	e, err := p.Timeout(Patience).ElementByJS(rod.Eval(labelled, label))
	p.must(err, "find "+label)
	p.must(e.CancelTimeout().Focus(), "focus "+label)
}

// Slow lets every answer from the server take a while, as over a bad line; 0 ends it.
func (p *Page) Slow(latency time.Duration) {
	p.must(proto.NetworkEnable{}.Call(p), "watch the network")
	slow := proto.NetworkEmulateNetworkConditions{
		Latency: float64(latency.Milliseconds()), DownloadThroughput: -1, UploadThroughput: -1,
	}
	p.must(slow.Call(p), "slow the network")
}

// Close ends the browser.
func (p *Page) Close() { _ = p.browser.Close() }

// find is JavaScript that a person's eye does: the visible thing with this name.
const find = `(what, name, exact) => {
	const seen = e => { const r = e.getBoundingClientRect(); return r.width > 0 && r.height > 0 && getComputedStyle(e).visibility !== 'hidden' }
	const clean = s => (s || '').replace(/\s+/g, ' ').trim()
	const label = e => clean(e.getAttribute('aria-label') || (e.labels && e.labels[0] && e.labels[0].textContent) || (e.matches('input,textarea,select') ? e.placeholder : e.textContent))
	const kinds = { button: 'button,[role=button],[role=radio],[role=option],summary', link: 'a[href]', field: 'input,textarea,select', any: 'a[href],button,[role=button],[role=option],[role=radio],[role=treeitem],[role=row]' }
	const shown = [...document.querySelectorAll(kinds[what])].filter(seen)
	const all = shown.filter(e => !e.disabled)
	const named = shown.filter(e => label(e) === name) // one that is busy is waited for, not passed over for its like
	if (named.length) return named.find(e => !e.disabled) || null
	return (exact ? null : all.find(e => label(e).startsWith(name)) || all.find(e => label(e).includes(name))) || null
}`

func (p *Page) look(what, name string) *rod.Element {
	e, err := p.Timeout(Patience).ElementByJS(rod.Eval(find, what, name, false))
	if err != nil {
		panic(fmt.Sprintf("no %s %q shows; the page says: %s", what, name, p.Text()))
	}
	return e.CancelTimeout()
}

// Text is everything that shows.
func (p *Page) Text() string {
	v, err := p.Eval(`() => document.body.innerText`)
	if err != nil {
		return err.Error()
	}
	return v.Value.Str()
}

func (p *Page) must(err error, doing string) {
	if err != nil {
		panic(fmt.Sprintf("%s: %v", doing, err))
	}
}

// Press clicks a button, link or option by its name.
func (p *Page) Press(name string) {
	p.Clicks++
	for end := time.Now().Add(Patience); ; {
		e := p.look("any", name).Timeout(Patience / 4)
		_ = e.WaitStableRAF() // what moves still would be missed
		err := e.Click(proto.InputMouseButtonLeft, 1)
		if err == nil {
			return
		}
		if time.Now().After(end) { // until then it may have been made anew under the hand: a person looks again
			p.must(err, "press "+name)
		}
	}
}

// Hold presses a button and holds it for a moment, as one wants that nobody begins by a slip.
func (p *Page) Hold(name string) {
	p.Clicks++
	e := p.look("any", name)
	p.must(e.ScrollIntoView(), "find "+name)
	p.must(e.Hover(), "find "+name)
	p.must(p.Mouse.Down(proto.InputMouseButtonLeft, 1), "hold "+name)
	time.Sleep(1200 * time.Millisecond)
	p.must(p.Mouse.Up(proto.InputMouseButtonLeft, 1), "let go of "+name)
}

// Station goes to a station by its number and name, and waits until it is there: until then the names beside it lead
// to the doors of the last one.
func (p *Page) Station(name string) {
	p.Press(name)
	err := p.Timeout(Patience).Wait(rod.Eval(
		`n => [...document.querySelectorAll('nav a[aria-current=page]')].some(a => a.textContent.replace(/\s+/g, ' ').trim().startsWith(n))`,
		name,
	))
	p.must(err, "wait for "+name)
}

// Fill types into a field by its label, in place of what is there.
func (p *Page) Fill(label, text string) {
	p.Clicks++
	p.Keys += len(text)
	e := p.look("field", label).Timeout(Patience)
	p.must(e.SelectAllText(), "select "+label)
	if text == "" {
		p.must(p.Keyboard.Type(input.Backspace), "empty "+label)
		return
	}
	p.must(e.Input(text), "fill "+label)
}

// When sets a field for a date and a time by its label, as 2026-11-26T18:00.
func (p *Page) When(label, text string) {
	p.Keys += len(text)
	e := p.look("field", label).Timeout(Patience)
	_, err := e.Eval(`text => { this.value = text; this.dispatchEvent(new Event('input', { bubbles: true })) }`, text)
	p.must(err, "set "+label)
}

// Choose picks an option of a list by its words.
func (p *Page) Choose(label, option string) {
	p.Clicks += 2
	e := p.look("field", label).Timeout(Patience)
	p.must(e.Select([]string{option}, true, rod.SelectorTypeText), "choose "+option+" at "+label)
}

// offered is JavaScript that finds the option of the list of a field, once that holds what was looked for and nothing
// else.
const offered = `(l, n) => {
	const field = [...document.querySelectorAll('input')].find(e => (e.getAttribute('aria-label') || '').startsWith(l))
	const list = document.getElementById(field?.getAttribute('aria-controls') || '')
	const options = [...(list?.querySelectorAll('[role=option]') || [])]
	if (!options.every(e => e.textContent.toLowerCase().includes(n.toLowerCase()))) return null
	return options.find(e => e.textContent.replace(/\s+/g, ' ').trim().startsWith(n)) || null
}`

// Pick finds something by its name in a field that looks things up, and chooses it.
func (p *Page) Pick(label, name string) {
	p.Fill(label, name)
	for end := time.Now().Add(Patience); ; {
		e, err := p.Timeout(Patience).ElementByJS(rod.Eval(offered, label, name))
		p.must(err, "find "+name+" at "+label)
		e = e.CancelTimeout().Timeout(Patience / 4)
		_ = e.WaitStableRAF() // the list moves with what comes above it
		err = e.Click(proto.InputMouseButtonLeft, 1)
		if err == nil {
			err = p.Timeout(2 * time.Second).Wait(rod.Eval(`(l, n) => !(`+offered+`)(l, n)`, label, name))
		}
		if err == nil {
			return
		}
		if time.Now().After(end) { // until then it may have gone beside: a person sees the list still there
			p.must(err, "choose "+name+" at "+label)
		}
	}
}

// inTree is JavaScript that finds a row of a tree by its name, once the tree shows no door of another name.
const inTree = `(t, n) => {
	const rows = [...document.querySelectorAll('[role=tree]')].filter(e => e.getAttribute('aria-label') === t)
		.flatMap(e => [...e.querySelectorAll('[role=treeitem]')])
	const text = e => e.textContent.replace(/\s+/g, ' ').trim()
	if (!rows.every(e => e.getAttribute('aria-level') !== '3' || text(e).toLowerCase().includes(n.toLowerCase()))) return null
	return rows.find(e => text(e).startsWith(n)) || null
}`

// TickIn looks for a thing in a tree, by the tree's label, and ticks it.
func (p *Page) TickIn(tree, name string) {
	p.Clicks++
	p.Fill("Find in "+tree, name)
	defer p.Fill("Find in "+tree, "")
	e, err := p.Timeout(Patience).ElementByJS(rod.Eval(inTree, tree, name))
	p.must(err, "find "+name+" in "+tree)
	e = e.CancelTimeout().Timeout(Patience)
	_ = e.WaitStableRAF()
	was, err := e.Attribute("aria-checked")
	p.must(err, "see whether "+name+" is ticked")
	p.must(e.Click(proto.InputMouseButtonLeft, 1), "tick "+name)
	p.must(e.Wait(rod.Eval(`was => this.getAttribute('aria-checked') !== was`, *was)), "see "+name+" ticked")
}

// Tick clicks a checkbox by its label.
func (p *Page) Tick(label string) {
	p.Clicks++
	e := p.look("field", label).Timeout(Patience)
	_ = e.WaitStableRAF()
	p.must(e.Click(proto.InputMouseButtonLeft, 1), "tick "+label)
}

// Type presses keys wherever the focus is.
func (p *Page) Type(keys ...input.Key) {
	p.Keys += len(keys)
	p.must(p.Keyboard.Type(keys...), "type")
}

// Save presses Ctrl S.
func (p *Page) Save() {
	p.Keys++
	p.must(p.KeyActions().Press(input.ControlLeft).Type('s').Do(), "press Ctrl S")
}

// See waits until words show.
func (p *Page) See(words string) {
	err := p.Timeout(Patience).Wait(rod.Eval(`w => document.body.innerText.replace(/\s+/g, ' ').includes(w)`, words))
	if err != nil {
		panic(fmt.Sprintf("%q does not show; the page says: %s", words, p.Text()))
	}
}

// Gone waits until words no longer show.
func (p *Page) Gone(words string) {
	if err := p.Timeout(Patience).Wait(rod.Eval(`w => !document.body.innerText.includes(w)`, words)); err != nil {
		panic(fmt.Sprintf("%q still shows; the page says: %s", words, p.Text()))
	}
}

// Top scrolls everything back to its beginning.
func (p *Page) Top() {
	_, err := p.Eval(`() => document.querySelectorAll('*').forEach(e => { e.scrollTop = 0 })`)
	p.must(err, "scroll to the top")
}

// Go opens an address within the application.
func (p *Page) Go(path string) {
	base := p.MustInfo().URL
	if i := strings.Index(base[8:], "/"); i >= 0 {
		base = base[:8+i]
	}
	p.must(p.Navigate(base+path), "go to "+path)
	p.must(p.WaitLoad(), "load "+path)
}

// Shot writes a picture of what shows.
func (p *Page) Shot(path string) error {
	b, err := p.Screenshot(false, nil)
	if err != nil {
		return err
	}
	if err := os.MkdirAll(filepath.Dir(path), 0o755); err != nil {
		return err
	}
	return os.WriteFile(path, b, 0o644)
}

// Drag draws from one part of an element to another, in fractions of its width and height.
func (p *Page) Drag(label string, x1, y1, x2, y2 float64) {
	p.Clicks++
	e, err := p.Timeout(Patience).ElementByJS(rod.Eval(labelled, label))
	p.must(err, "find "+label)
	shape, err := e.CancelTimeout().Shape()
	p.must(err, "shape of "+label)
	box := shape.Box()
	at := func(x, y float64) proto.Point {
		return proto.Point{X: box.X + x*box.Width, Y: box.Y + y*box.Height}
	}
	p.must(p.Mouse.MoveTo(at(x1, y1)), "move")
	p.must(p.Mouse.Down(proto.InputMouseButtonLeft, 1), "press the mouse")
	p.must(p.Mouse.MoveLinear(at(x2, y2), 6), "drag")
	p.must(p.Mouse.Up(proto.InputMouseButtonLeft, 1), "let go")
}
