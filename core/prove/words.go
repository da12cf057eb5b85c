package prove

import (
	"fmt"
	"strings"
	"time"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
)

// Headline puts an event into a few words, such as "Refused: outside hours".
func (b *Book) Headline(e *pass.Fact) string {
	switch e.Kind {
	case pass.WasGranted:
		words := "Granted"
		switch e.Reason {
		case pass.GrantedFree:
			words += ", the door is free"
		case pass.GrantedNotCleared:
			words += ", and not cleared"
		case pass.GrantedPassback:
			words += ", and not where they should come from"
		}
		return words
	case pass.WasRefused:
		return "Refused: " + e.Reason.Words()
	case pass.ModeNow:
		if e.Waits {
			return "Waits for its first card"
		}
		return "Asks now: " + e.Mode.String()
	case pass.NotTaken:
		if d := b.doors[e.Door]; d != nil && d.Car != nil {
			return "Granted, and no floor was chosen"
		}
	case pass.ClockSet:
		return "Clock moved " + movedWords(e.Note)
	}
	if words, ok := headlines[e.Kind]; ok {
		return words
	}
	return "Event without words: " + e.Kind.String()
}

// movedWords turns how far a clock moved into words: 2 h 14 min ahead.
func movedWords(note string) string {
	by, err := time.ParseDuration(note)
	if err != nil {
		return note
	}
	where := "ahead"
	if by < 0 {
		by, where = -by, "back"
	}
	switch {
	case by >= 48*time.Hour:
		return fmt.Sprintf("%d days %s", int(by.Hours()/24+0.5), where)
	case by >= time.Hour:
		return fmt.Sprintf("%d h %d min %s", int(by.Hours()), int(by.Minutes())%60, where)
	case by >= time.Minute:
		return fmt.Sprintf("%d min %d s %s", int(by.Minutes()), int(by.Seconds())%60, where)
	}
	return fmt.Sprintf("%d s %s", int(by.Seconds()), where)
}

var headlines = map[pass.Kind]string{
	pass.Started: "Controller started", pass.ImageLoaded: "New configuration in force",
	pass.NetworkLost: "Network lost",
	pass.NetworkBack: "Network is back", pass.AwaitsPIN: "Card good, waits for the PIN",
	pass.KeypadWasLocked: "Keypad locked",
	pass.Duress:          "Silent alarm: duress", pass.Opened: "Opened", pass.OpenedAlone: "Opened without a reason",
	pass.Closed:  "Closed",
	pass.Entered: "Went through", pass.NotTaken: "Granted, but not opened", pass.ExitRequest: "Exit request",
	pass.Forced: "Door forced", pass.ForcedEnded: "Forced door closed", pass.HeldWarning: "Held open soon",
	pass.HeldOpen: "Door held open", pass.HeldEnded: "Held-open ended",
	pass.FirstCard: "First card: opens the day", pass.LogDamaged: "Log damaged",
	pass.HoldBegan: "Held by an operator", pass.HoldEnded: "Operator hold ended",
	pass.LockdownBegan: "Lockdown", pass.LockdownEnded: "Lockdown ended",
	pass.FireBegan: "Fire release", pass.FireEnded: "Fire release ended",
	pass.WireCut: "Wire cut", pass.WireShorted: "Wire shorted", pass.WireSound: "Wire in order again",
	pass.InputActive: "Input active", pass.InputRest: "Input at rest",
	pass.MainsLost: "Mains lost", pass.MainsBack: "Mains are back",
	pass.BatteryLow: "Battery low", pass.BatteryGood: "Battery good again",
	pass.TamperOpened: "Controller's box opened", pass.TamperClosed: "Controller's box closed",
	pass.ReaderLost: "Reader does not answer", pass.ReaderBack: "Reader answers again",
	pass.AwaitsMore: "Good so far, waits for more", pass.AwaitsDoor: "Good, waits for another door",
	pass.HeldBack: "Held back by an interlock", pass.ToggledOn: "Toggled by reads", pass.ToggledOff: "Toggle ended",
	pass.ReleasedOnce: "Released once by an operator", pass.PlaceIs: "Is in another area now",
	pass.KeypadLifted: "Keypad works again",
	pass.FloorChosen:  "Chose a floor", pass.FloorRefused: "Floor refused",
	pass.FloorReleased: "Floor relay on", pass.FloorHeld: "Floor relay off",
	pass.ArmingBegan: "Arming", pass.Armed: "Armed", pass.NotArmed: "Not armed", pass.ArmingFailed: "Arming failed",
	pass.Disarmed: "Disarmed", pass.EntryBegan: "Came in while armed", pass.Intrusion: "Intrusion",
	pass.IntrusionEnded: "Intrusion alarm ended",
	pass.Reacted:        "Reaction", pass.ReactionRests: "Reaction rests",
	pass.LoudBegan: "Louder log", pass.LoudEnded: "Louder log ended",
	pass.WasCleared: "Cleared by coming in", pass.WasConfirmed: "Confirmed by an operator",
	pass.ReaderOpened: "Reader's cover opened", pass.ReaderClosed: "Reader's cover closed",
}

// Mend says what would have to change for a refused read to be granted; nothing for other events.
func (b *Book) Mend(e *pass.Fact) string {
	if e.Kind != pass.WasRefused {
		return ""
	}
	who, door, z := b.Name(e.Person), b.Name(e.Door), b.Zone(e.Door)
	if words := b.credentialMend(e, who, door); words != "" {
		return words
	}
	switch e.Reason {
	case pass.KeypadLocked:
		return "Wait until it is over, or lift it in Rules, By hand."
	case pass.DoorBarred:
		switch e.Layer {
		case hours.Lockdown:
			return "End the lockdown, once it is over."
		case hours.OperatorHold:
			return "Let " + door + " go: an operator holds it."
		}
		return "Wait until the door is no longer barred, or change its passage plan."
	case pass.AwaitingFirstCard:
		return "Let somebody whose level opens the day come in first, or let others in before in the door's first-card rule."
	case pass.NotCleared:
		return b.clearMend(e)
	case pass.SegmentLimit:
		return "Give " + who + " one of the levels that count at this hour, or take the limit off the plan's segment."
	case pass.OperatorRefused, pass.Interlocked, pass.WaitingForMore, pass.WrongGroup, pass.MoreTimeout,
		pass.AlreadyInside, pass.NotInside, pass.TooSoon, pass.AreaFull, pass.AreaNeedsTwo:
		return b.ruleMend(e)
	case pass.WhileArmed:
		return b.alarmMend(e)
	case pass.NoLevel:
		return "Give " + who + " a level that covers " + door + "."
	case pass.FloorNotAllowed:
		return b.Name(e.Level) + " comes to " + door + " and to none of its floors: choose floors in it."
	case pass.LevelDates:
		return "Change the dates on which " + who + " has " + b.Name(e.Level) + "."
	case pass.OutsideHours:
		change := fmt.Sprintf("Widen %s, or give %s another level for %s.", b.Name(e.Schedule), who, door)
		if e.Next == 0 || e.Next >= hours.Never {
			return "These hours never come again. " + change
		}
		return fmt.Sprintf("%s may come in again %s. %s", who, stamp(z, e.Next), change)
	}
	return ""
}

// credentialMend is Mend of what is wrong with a reader, a card, a PIN or a person.
func (b *Book) credentialMend(e *pass.Fact, who, door string) string {
	switch e.Reason {
	case pass.ReaderOff:
		return "Fit a reader on this side, in the door's build."
	case pass.FormatUnknown:
		if e.Shown != "" {
			return "Say in the build of " + door + " that its reader takes a " + e.Format + ", or show a card."
		}
		return "Add this card's format to the formats that readers take, or use another card."
	case pass.ParityWrong:
		return "Present the card again. If it stays so, look at the reader's wiring or the card's format."
	case pass.FacilityWrong:
		return "If these cards are yours, add their facility code to the accepted ones."
	case pass.CardUnknown:
		if e.Note == NotSent {
			return "Send to the controller of " + door + ": it does not know yet what " + who + " may do there."
		}
		return "Give the card to a person, then send."
	case pass.CardLost, pass.CardStolen, pass.CardSuspended:
		return "Make the card active again, or give " + who + " another one."
	case pass.CardNotYet, pass.CardExpired:
		return "Change the dates of the card."
	case pass.PersonSuspended:
		return "End the suspension of " + who + "."
	case pass.PersonNotYet, pass.PersonExpired:
		return "Change the dates of " + who + "."
	case pass.NeedPIN:
		return "Type a PIN as well; if there is no keypad, fit one or choose a plan without PIN for " + door + "."
	case pass.NeedCard:
		return "Present a card first."
	case pass.WrongPIN, pass.Timeout:
		return "Type the right PIN, in time."
	}
	return ""
}

// Detail says what the headline of an event leaves out; often nothing.
func (b *Book) Detail(e *pass.Fact) string {
	z := b.Zone(e.Door)
	switch e.Kind {
	case pass.WasGranted:
		words := shownWords(e)
		if e.Level != 0 {
			words = "level " + b.Name(e.Level)
		}
		if len(e.Floors) > 0 {
			words = b.floorList(e.Floors) + " released; " + words
		}
		return words
	case pass.FloorChosen, pass.FloorRefused, pass.FloorReleased, pass.FloorHeld:
		return b.floorList(e.Floors)
	case pass.ArmingBegan, pass.Armed, pass.NotArmed, pass.ArmingFailed, pass.Disarmed, pass.EntryBegan, pass.Intrusion,
		pass.IntrusionEnded:
		return b.alarmDetail(e)
	case pass.Reacted:
		return b.Name(e.Rule)
	case pass.ReactionRests:
		return fmt.Sprintf("%s was set off more than %d times in a minute; it rests until %s", b.Name(e.Rule),
			site.MostInARow, z.Time(e.Next).Format("15:04:05"))
	case pass.LoudBegan:
		return "relays are events too, " + untilWords(z, e.At, e.Next) + byWords(e.Note)
	case pass.WasRefused:
		return b.refusal(e, z)
	case pass.WasCleared, pass.WasConfirmed, pass.AwaitsMore, pass.AwaitsDoor, pass.ToggledOn, pass.HeldBack, pass.PlaceIs:
		return b.ruleDetail(e, z)
	case pass.KeypadWasLocked:
		if e.Person != 0 {
			return "the card of " + b.Name(e.Person) + ", after too many wrong PINs, until " + clock(z, e.Next)
		}
		return "after too many wrong PINs, until " + clock(z, e.Next)
	case pass.OpenedAlone:
		return "no grant, no exit request, not free"
	case pass.Forced:
		return "opened with no grant, no exit request"
	case pass.ModeNow:
		return b.modeNow(e, z)
	case pass.Opened:
		if e.Person != 0 {
			return "by " + b.Name(e.Person)
		}
		return "after an exit request, or free"
	}
	if words := b.handDetail(e, z); words != "" {
		return words
	}
	return b.hardwareDetail(e)
}

// handDetail is Detail of what was done by hand.
func (b *Book) handDetail(e *pass.Fact, z *hours.Zone) string {
	switch e.Kind {
	case pass.HoldBegan:
		return e.Mode.String() + ", " + untilWords(z, e.At, e.Next) + byWords(e.Note)
	case pass.ReleasedOnce:
		if len(e.Floors) > 0 {
			return b.floorList(e.Floors) + byWords(e.Note)
		}
		return strings.TrimPrefix(byWords(e.Note), ", ")
	case pass.HoldEnded, pass.KeypadLifted, pass.LoudEnded:
		return strings.TrimPrefix(byWords(e.Note), ", ")
	case pass.LockdownEnded, pass.FireEnded:
		return strings.TrimPrefix(b.ruleNamed(e)+b.byWhom(e), ", ")
	case pass.LockdownBegan:
		return strings.TrimPrefix(b.ruleNamed(e), ", ") + sep(e.Rule) + "barred until it is ended; exit requests work" +
			b.byWhom(e)
	case pass.FireBegan:
		return strings.TrimPrefix(b.ruleNamed(e), ", ") + sep(e.Rule) + "free for escape until it is ended" + b.byWhom(e)
	}
	return ""
}

// hardwareDetail is Detail of wires, readers, power and the controller itself.
func (b *Book) hardwareDetail(e *pass.Fact) string {
	switch e.Kind {
	case pass.WireCut, pass.WireShorted, pass.WireSound:
		return "at input " + e.Point
	case pass.InputActive, pass.InputRest:
		return b.inputNamed(e)
	case pass.MainsLost:
		return "it goes on deciding on its battery"
	case pass.ReaderLost, pass.ReaderBack, pass.ReaderOpened, pass.ReaderClosed:
		return "the reader at " + e.Point
	case pass.ImageLoaded:
		return fmt.Sprintf("hash %.8s…", e.Note)
	case pass.LogDamaged:
		if e.Note == "1" {
			return "1 line of the controller's log cannot be believed; it was left out"
		}
		return e.Note + " lines of the controller's log cannot be believed; they were left out"
	}
	return ""
}

// byWords says who gave an order, where that is known.
func byWords(note string) string {
	if note == "" {
		return ""
	}
	return ", by " + note
}

// ruleNamed names the rule of an event; nothing where it was by hand.
func (b *Book) ruleNamed(e *pass.Fact) string {
	if e.Rule == 0 {
		return ""
	}
	return ", " + b.Name(e.Rule)
}

func sep(rule site.ID) string {
	if rule == 0 {
		return ""
	}
	return ": "
}

// byWhom says who or what began or ended something: an operator, a card, an input.
func (b *Book) byWhom(e *pass.Fact) string {
	switch {
	case e.Note != "":
		return byWords(e.Note)
	case e.Person != 0:
		return ", by the card of " + b.Name(e.Person)
	case e.Input != 0:
		return ", by " + b.inputNamed(e)
	}
	return ""
}

// shownWords names what was shown, where it is known.
func shownWords(e *pass.Fact) string {
	switch {
	case e.Shown != "":
		return e.Format + " " + e.Shown
	case e.Format != "":
		return "card " + cards.Number(e.Format, e.Facility, e.Number)
	}
	return ""
}

// refusal says what the reason of a refusal leaves out.
func (b *Book) refusal(e *pass.Fact, z *hours.Zone) string {
	shown := shownWords(e)
	switch {
	case e.Person == 0 && shown != "":
		return shown
	case e.Reason == pass.Timeout && e.Note == "replaced":
		return "another card came before it"
	case e.Reason == pass.MoreTimeout && e.Note == "refused":
		return "somebody else was refused, so all begin anew"
	case e.Reason == pass.Interlocked:
		return b.blocking(e) + " stayed open or released"
	case e.Note == NotSent:
		return shown + " is not known to this controller; send to it"
	case e.Mode == hours.Free:
		return "the door was free all the same"
	case e.Reason == pass.OutsideHours:
		return "may come in again " + stamp(z, e.Next)
	case e.Bits != "":
		bits := readBits(e.Bits)
		r := cards.Decode(&bits, b.accepts(e))
		return r.Explain(b.accepts(e))
	case e.Reason == pass.KeypadLocked:
		return "too many wrong PINs"
	}
	return ""
}

// modeNow says until when a door asks what it does, and why.
func (b *Book) modeNow(e *pass.Fact, z *hours.Zone) string {
	if e.Layer > hours.DatedChange {
		return above[e.Layer].words + ", " + untilWords(z, e.At, e.Next)
	}
	words := "at all hours"
	if e.Next != 0 {
		words = "until " + shortStamp(z, e.At, e.Next)
	}
	if e.Change != 0 {
		words += ", for " + b.Name(e.Change)
	}
	if e.Waits {
		words = e.Mode.String() + " is needed, " + words
	}
	return words
}

// above are the layers that no plan and no date makes, highest last.
var above = map[hours.Layer]struct{ name, words string }{
	hours.CardToggle: {
		"Card toggle",
		"toggled by a card",
	}, hours.OperatorHold: {"Operator hold", "held by an operator"},
	hours.Lockdown: {"Lockdown", "in lockdown"}, hours.FireRelease: {"Fire release", "for escape: fire release"},
	hours.AlarmArmed: {"Alarm area", "because its alarm area is armed"},
}

// untilWords says until when something holds that may have no end of its own.
func untilWords(z *hours.Zone, now, until hours.Instant) string {
	if until == 0 {
		return "until it is ended"
	}
	return "until " + shortStamp(z, now, until)
}

// readBits reads bits that a controller wrote; what cannot be read is an empty read.
func readBits(s string) cards.Bits {
	b, err := cards.ParseBits(s)
	if err != nil {
		return cards.Bits{}
	}
	return b
}

// inputNamed names the input of an event: its name, else its terminal.
func (b *Book) inputNamed(e *pass.Fact) string {
	if name := b.names[e.Input]; name != "" {
		return name
	}
	return "at input " + e.Point
}
