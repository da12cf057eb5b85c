// Command shots takes the pictures of docs/screenshots from a running demo.
package main

import (
	"flag"
	"fmt"
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
	shot := func(name string) {
		if only != "" && only != name {
			return
		}
		time.Sleep(400 * time.Millisecond) // fonts and the last answers
		if err := p.Shot(filepath.Join(dir, name+".png")); err != nil {
			panic(err)
		}
		fmt.Println(name)
	}
	p.See("This is the demo")
	shot("sign-in")
	p.Press("Sign in")
	p.See("In service")
	shot("build")
	p.Press("Take into service")
	p.Fill("Name", "East annex")
	p.Press("Erase and take into service")
	p.See("Does it show the same code")
	shot("compare")
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
	shot("hours")
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
	p.Press("Dated changes")
	p.See("laid over their plans")
	p.Press("Lantern evening")
	p.See("every month on the last Friday")
	shot("dated-change")
	p.Station("3 People")
	p.See("60 in all")
	shot("people")
	p.Press("Ines Marrow")
	p.See("Access levels")
	shot("person")
	p.Station("3 People")
	p.Press("Access levels")
	p.See("Where, and each place")
	p.Press("Gallery staff")
	p.See("Places that you choose")
	p.TickIn("Doors of the level", "Quay entrance")
	p.See("people may come in at fewer hours")
	p.Top()
	shot("level")
	p.Press("Discard")
	p.Station("4 Rules")
	p.See("PINs and keypads")
	shot("rules")
	p.Station("5 Send")
	p.See("unlock time 40 s")
	shot("send")
	p.Station("6 Prove")
	p.See("May this person")
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
	shot("history")
	return nil
}
