// Command shots takes the pictures of docs/screenshots from a running demo.
package main

import (
	"flag"
	"fmt"
	"image"
	"image/draw"
	"image/png"
	"os"
	"path/filepath"
	"time"

	"amberkeystone/e2e/browser"
)

func main() {
	url := flag.String("url", "http://127.0.0.1:8470", "address of the demo")
	dir := flag.String("dir", "docs/screenshots", "folder to write to")
	only := flag.String("only", "", "take only this one")
	flag.Parse()
	if err := take(*url, *dir, *only); err != nil {
		fmt.Fprintln(os.Stderr, "shots:", err)
		os.Exit(1)
	}
}

func take(url, dir, only string) error {
	p, err := browser.Open(url)
	if err != nil {
		return err
	}
	defer p.Close()
	taken := map[string]bool{}
	shot := func(name string) { // a name that comes again is put beneath the first
		if only != "" && only != name {
			return
		}
		time.Sleep(400 * time.Millisecond) // fonts and the last answers
		path := filepath.Join(dir, name+".png")
		to := path
		if taken[name] {
			to = filepath.Join(os.TempDir(), name+"-beneath.png")
		}
		if err := p.Shot(to); err != nil {
			panic(err)
		}
		if taken[name] {
			if err := stack(path, to); err != nil {
				panic(err)
			}
		}
		taken[name] = true
		fmt.Println(name)
	}
	p.See("This is the demo")
	p.Press("Sign in")
	p.See("In service")
	shot("build")
	p.Press("Doors")
	p.See("24 in all")
	for i := range 5 {
		p.MustEval(`i => document.querySelectorAll('.tick[title^=Choose]')[i].parentElement.click()`, i)
		p.See(fmt.Sprintf("%d chosen", i+1))
	}
	p.Press("Edit together …")
	p.Tick("Held open after")
	p.Fill("Held open after for all", "90")
	p.See("→ 90 s")
	shot("build")
	p.Press("Cancel")
	p.Press("Terminals")
	p.See("terminals are in use")
	p.Press("I7")
	p.Press("Cut the wire")
	p.See("is a fault, not an open door")
	shot("terminals")
	p.Press("Mend it")
	p.Press("Card formats")
	p.Fill("Bits of a read", "10010101100101011001010110010101101")
	p.Press("Make a format of this")
	p.See("The read is")
	p.MustEval(`() => document.querySelector('[aria-label=Formats]').scrollIntoView()`)
	shot("terminals")
	p.Press("Discard")
	p.Press("Power")
	p.See("Slipway gate")
	shot("controller")
	p.Press("Hardware schedule")
	p.See("without power it")
	shot("controller")
	p.Press("Controllers")
	p.Press("First doors")
	p.See("Next: Doors")
	p.Press("Next: Doors")
	p.Fill("Name of door 1 of Controller 1007", "Annex, street door")
	p.Fill("Name of door 2 of Controller 1007", "Annex, store")
	shot("build")
	p.Go("/build")
	p.Press("Controllers")
	p.See("In service")
	p.Press("Take into service")
	p.Fill("Name", "East annex")
	p.Press("Erase and take into service")
	p.See("Does it show the same code")
	p.Press("It differs")
	p.Press("Cancel")
	p.Press("Collections room")
	p.See("Self-test")
	p.Press("Test now")
	p.See("right to the second")
	shot("controller")
	p.Press("Quay entrance")
	p.See("Who can come in")
	shot("door-build")
	p.Station("2 Hours") // the door stays
	p.See("What decides")
	shot("door-hours")
	p.Station("2 Hours")
	p.See("Passage plans")
	p.Press("Quay entrance")
	p.See("What decides")
	p.Press("Public galleries")
	p.See("Open it")
	p.Press("Open it")
	p.See("Hours a week")
	p.Fill(
		"Hours as text",
		`Mo-Su 00:00-06:00 "barred", Tu-Th,Sa-Su 10:00-17:00 "free after first card", Fr 10:00-19:00 "free after first card", Mo-Su 22:00-24:00 "card and PIN"`,
	)
	p.See("First differs")
	shot("plan")
	p.Press("Discard")
	p.Station("2 Hours")
	p.Press("Holidays")
	p.See("Holidays: the days")
	p.See("Founders’ Day")
	p.Press("Christmas")
	p.See("people lose")
	p.Top()
	shot("holidays")
	p.Press("Load public holidays")
	p.Fill("Country or region", "Nova Scotia")
	p.Press("Canada, Nova Scotia")
	p.See("Remembrance Day")
	p.Station("2 Hours")
	p.Press("Findings")
	p.See("Untidy")
	shot("findings")
	elevators(p, shot)
	p.Go("/hours")
	p.Press("Dated changes")
	p.See("laid over their plans")
	p.Press("Lantern evening")
	p.See("every month on the last Friday")
	shot("holidays")
	people(p, shot)
	p.Station("4 Rules")
	p.See("Two at the vault")
	p.Station("5 Send")
	p.See("unlock time 40 s")
	shot("send")
	p.Go("/send/sent")
	p.See("verified")
	shot("send")
	rules(p, shot)
	prove(p, shot)
	p.Station("6 Prove")
	p.See("Two of person, door and time")
	p.Press("Staff stair")
	p.See("What the controller said")
	p.Fill("Make it", "Thu 22:14:05")
	p.Press("Set its clock")
	p.See("back to now")
	p.Press("Present card")
	p.See("Card good, waits")
	p.Press("Damaged read")
	p.Press("Present card")
	p.See("damaged read")
	p.Fill("Make it", "Thu 19:30:00")
	p.Press("Set its clock")
	p.Press("Present card")
	p.Fill("Find a card", "Tomas Okafor")
	p.Gone("Unknown card")
	p.Press("Tomas Okafor")
	p.Press("Present card")
	p.See("Granted")
	p.Press("Open O")
	p.See("Opened")
	p.Press("Close O")
	p.Fill("Make it", "Thu 06:30:00")
	p.Press("Set its clock")
	p.Fill("Find a card", "")
	p.See("Unknown card")
	p.Press("Open O")
	p.Press("Tomas Okafor")
	p.Press("Present card")
	p.See("outside hours")
	p.Top()
	shot("bench")
	p.Press("Close O")
	p.Press("back to now")
	p.Station("7 Watch")
	p.Press("Staff stair ✕")
	p.Press("alarm")
	p.See("Door held open")
	p.Press("all")
	p.See("Clock moved")
	p.Fill("Find in events", "outside hours")
	p.Gone("Clock moved")
	p.Press("06:30:0")
	p.See("What would change it")
	p.Fill("Find in events", "")
	p.See("Clock moved")
	shot("watch")
	p.Go("/history")
	p.See("Who changed what")
	p.Press("door Loading dock changed")
	p.See("Undo this")
	return nil
}

// elevators are the pictures of a shaft, built and ridden.
func elevators(p *browser.Page, shot func(string)) {
	p.Go("/build")
	p.Press("Front elevator")
	p.See("To the bench")
	p.See("Begin at the lowest")
	p.Top()
	shot("elevators")
	p.Go("/prove")
	p.Press("Freight elevator")
	p.See("Stands at")
	p.Fill("Make it", "Wed 11:00:00")
	p.Press("Set its clock")
	p.See("back to now")
	p.Fill("Find a card", "Linnea Vane")
	p.Gone("Unknown card")
	p.Press("Linnea Vane")
	p.Press("Present card")
	p.See("may be pressed")
	p.Press("Level 2 · Offices and lab, may be pressed")
	p.See("Chose a floor")
	shot("elevators")
}

// people are the pictures of who, where and when.
func people(p *browser.Page, shot func(string)) {
	p.Station("3 People")
	p.See("60 in all")
	shot("people")
	p.Go("/people/coming")
	p.See("Xenia Pell")
	shot("people")
	p.Go("/people")
	p.Press("Ines Marrow")
	p.See("May pass")
	shot("person")
	p.Go("/people/departments")
	p.Press("Duty managers")
	p.See("Department of")
	shot("person")
	p.Go("/people/levels")
	p.See("Where, and each place")
	p.Press("Gallery staff")
	p.See("Who has it")
	p.TickIn("Doors of the level", "Quay entrance")
	p.See("13 people: ")
	p.Top()
	shot("level")
	p.Press("Discard")
	p.Go("/people/compare?kind=person")
	p.Pick("The one", "Ines Marrow")
	p.Pick("The other", "Noor Pell")
	p.See("Only Ines Marrow")
	shot("level")
	p.Go("/people/cards")
	p.See("Present cards")
	shot("people")
	list := filepath.Join(os.TempDir(), "volunteers.csv")
	rows := "Name;Number;Department;Cards;Levels\nWren Abbot;901;Volunteers;42-13001;Gallery staff\nIvo Karst;902;Volunteers;42-12572;\nMila Tor;903;Volunteers;42-13003;Kings\n"
	if err := os.WriteFile(list, []byte(rows), 0o600); err != nil {
		panic(err)
	}
	p.Go("/people/import")
	p.Upload("Choose a file", list)
	p.See("1 new")
	shot("people")
}

// rules are the pictures of rules, one of them opened, and of orders by hand.
func rules(p *browser.Page, shot func(string)) {
	p.Go("/rules")
	p.See("Two at the vault")
	shot("rules")
	p.Press("Two at the vault")
	p.See("30 ways")
	shot("rules")
	p.Go("/rules/areas")
	p.See("Staff side")
	shot("rules")
	p.Go("/rules/hand")
	p.TickIn("Doors for an order", "Loading dock")
	p.Press("Hold free")
	p.Fill("Why", "a delivery")
	p.See("Loading dock stands free")
	p.Press("Hold free now")
	p.See("held free, until it is ended")
	shot("rules")
	p.Press("Back to plan: Loading dock")
	p.See("every door follows its plan")
	p.Go("/rules/emergencies")
	p.See("Hold to start Main house shut")
	shot("emergencies")
	p.Press("Main house shut")
	p.See("as if it began now")
	shot("emergencies")
	p.Go("/rules/reactions")
	p.See("Mailbox and recordings")
	shot("reactions")
	p.Press("Shutter left open")
	p.See("What would have followed")
	shot("reactions")
	p.Go("/rules/alarm-areas")
	p.See("Nothing stands open")
	p.Press("Arm Museum shop")
	p.See("exit delay")
	shot("reactions")
	p.Press("Disarm Museum shop")
	p.See("Nothing stands open")
	p.Go("/rules/screening")
	p.See("0 of 5 cleared")
	p.Press("Clear until")
	p.See("1 of 5 cleared")
	shot("emergencies")
	p.Press("Withdraw")
	p.See("0 of 5 cleared")
}

// prove are the pictures of questions, the matrix and the list of rights.
func prove(p *browser.Page, shot func(string)) {
	p.Go("/prove?q=where can Ines go Saturday")
	p.See("Where can Ines Marrow go")
	shot("questions")
	p.Go("/prove/matrix?span=week")
	p.See("60 people in")
	p.Press("Kofi Ostrander")
	shot("questions")
	p.Go("/prove/rights?by=person&who=Kofi")
	p.See("1 person")
	shot("questions")
}

// stack puts a picture beneath another, in the file of that.
func stack(path, beneath string) error {
	a, err := load(path)
	if err != nil {
		return err
	}
	b, err := load(beneath)
	if err != nil {
		return err
	}
	out := image.NewRGBA(image.Rect(0, 0, max(a.Bounds().Dx(), b.Bounds().Dx()), a.Bounds().Dy()+b.Bounds().Dy()))
	draw.Draw(out, a.Bounds(), a, image.Point{}, draw.Src)
	draw.Draw(out, b.Bounds().Add(image.Pt(0, a.Bounds().Dy())), b, image.Point{}, draw.Src)
	f, err := os.Create(path)
	if err != nil {
		return err
	}
	if err := png.Encode(f, out); err != nil {
		return err
	}
	return f.Close()
}

func load(path string) (image.Image, error) {
	f, err := os.Open(path)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	return png.Decode(f)
}
