package prove

import (
	"cmp"
	"fmt"
	"math/bits"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode"

	"amberkeystone/core/hours"
	"amberkeystone/core/site"
)

// QuestionKind is what is asked.
type QuestionKind string

// The kinds of question, by which two of person, door and time are said.
const (
	AskMay   QuestionKind = "may"   // may this person pass this door then?
	AskWho   QuestionKind = "who"   // who can come in through this door then?
	AskWhere QuestionKind = "where" // where can this person go then?
	AskWhen  QuestionKind = "when"  // when can this person come in through this door?
	AskNone  QuestionKind = ""      // it was not understood
)

// Question is what was understood of a text: "Ines at Specimen vault Sat 16:30", "who can enter the vault tonight",
// "when Ines Lab". Everything in it can be corrected and asked again.
type Question struct {
	Kind   QuestionKind  `json:"kind" enum:"may,who,where,when,"`
	Person site.ID       `json:"person" doc:"0: none was named"`
	Door   site.ID       `json:"door" doc:"0: none was named"`
	From   hours.Instant `json:"from" doc:"The moment, or where the time begins; Unix milliseconds"`
	To     hours.Instant `json:"to" doc:"Where the time ends; the same as from for a moment"`
	Words  string        `json:"words" doc:"What was understood, as a sentence"`
	When   string        `json:"when" doc:"The time in words"`
	// Others that the words may mean, the likeliest first; with the chosen one.
	People []site.ID `json:"people"`
	Doors  []site.ID `json:"doors"`
	Unread []string  `json:"unread" doc:"Words of which nothing was made"`
}

// token is a word of a question, as people write it and folded.
type token struct {
	text string
	used bool
}

// fold writes a word without accents that matter to nobody's typing, in small letters.
func foldWord(s string) string {
	var b strings.Builder
	for _, r := range strings.ToLower(s) {
		if x, ok := plainLetters[r]; ok {
			b.WriteString(x)
			continue
		}
		b.WriteRune(r)
	}
	return b.String()
}

var plainLetters = map[rune]string{
	'à': "a", 'á': "a", 'â': "a", 'ä': "a", 'å': "a", 'ã': "a", 'æ': "ae", 'ç': "c", 'è': "e", 'é': "e", 'ê': "e",
	'ë': "e", 'ì': "i", 'í': "i", 'î': "i", 'ï': "i", 'ñ': "n", 'ò': "o", 'ó': "o", 'ô': "o", 'ö': "o", 'õ': "o",
	'ø': "o", 'ù': "u", 'ú': "u", 'û': "u", 'ü': "u", 'ý': "y", 'ß': "ss", '’': "'",
}

func tokens(text string) []token {
	var out []token
	for _, w := range strings.FieldsFunc(foldWord(text), func(r rune) bool {
		return unicode.IsSpace(r) || strings.ContainsRune(",;?!\"()", r)
	}) {
		out = append(out, token{text: w})
	}
	return out
}

// fillers are words that only make a sentence.
var fillers = map[string]bool{
	"can": true, "may": true, "the": true, "a": true, "an": true, "at": true, "in": true, "into": true, "to": true,
	"go": true, "goes": true, "enter": true, "come": true, "comes": true, "through": true, "is": true, "on": true,
	"pass": true, "does": true, "will": true, "be": true, "allowed": true, "get": true, "of": true, "for": true,
	"door": true, "by": true, "and": true, "she": true, "he": true, "they": true,
}

// Understand reads a question. The clock is that of the door that was found, else of the first one.
func (b *Book) Understand(text string, now hours.Instant) Question {
	list := tokens(text)
	if len(list) > 40 {
		list = list[:40]
	}
	q := Question{People: []site.ID{}, Doors: []site.ID{}, Unread: []string{}}
	for i := range list {
		switch t := &list[i]; t.text {
		case "who", "where", "when":
			if q.Kind == AskNone {
				q.Kind = QuestionKind(t.text)
			}
			t.used = true
		case "why":
			t.used = true
		}
	}
	z := &hours.Zone{Name: "UTC"}
	if len(b.Config.Doors) > 0 {
		z = b.Zone(b.Config.Doors[0].ID)
	}
	w := readTime(list, z.Wall(now))
	for i := range list {
		if fillers[list[i].text] {
			list[i].used = true
		}
	}
	b.readNames(&q, list)
	for _, t := range list {
		if !t.used {
			q.Unread = append(q.Unread, t.text)
		}
	}
	if q.Door != 0 {
		z = b.Zone(q.Door)
	}
	b.settle(&q, w, z, now)
	return q
}

// settle decides what is asked and when, and says so.
func (b *Book) settle(q *Question, w asked, z *hours.Zone, now hours.Instant) {
	if q.Kind == AskNone {
		switch {
		case q.Person != 0 && q.Door != 0:
			q.Kind = AskMay
		case q.Door != 0:
			q.Kind = AskWho
		case q.Person != 0:
			q.Kind = AskWhere
		}
	}
	today := z.Wall(now)
	switch {
	case w.hasClock:
		day := w.day
		if !w.hasDay {
			day = today.Day
		}
		q.From = z.Resolve(day, w.minute)
		q.To = q.From
	case w.night:
		day := today.Day
		if w.hasDay {
			day = w.day
		}
		q.From, q.To = z.Resolve(day, 20*60), z.Resolve(day+1, 6*60)
	case w.hasDay:
		q.From, q.To = z.Resolve(w.day, 0), z.Resolve(w.day+1, 0)
	case q.Kind == AskWhen:
		q.From, q.To = now, now+7*hours.FullDay
	default:
		q.From, q.To = now, now
	}
	if q.Kind == AskMay && q.To > q.From { // a day or a night: when in it
		q.Kind = AskWhen
	}
	b.Say(q, z, now)
}

// Say puts what was understood into words; it is told anew after a correction.
func (b *Book) Say(q *Question, z *hours.Zone, now hours.Instant) {
	switch from, to := z.Wall(q.From), z.Wall(q.To); {
	case q.From == q.To && q.From == now:
		q.When = "now"
	case q.From == q.To:
		q.When = from.Day.Words() + ", " + hours.Clock(from.Minute)
	case to.Day == from.Day+1 && from.Minute == 0 && to.Minute == 0:
		q.When = "on " + from.Day.Words()
	case q.To-q.From == 7*hours.FullDay && q.From == now:
		q.When = "in the next seven days"
	default:
		q.When = fmt.Sprintf("%s %s to %s %s", from.Day.Words(), hours.Clock(from.Minute), to.Day.Words(),
			hours.Clock(to.Minute))
	}
	person, door := "somebody", "a door"
	if q.Person != 0 {
		person = b.Name(q.Person)
	}
	if q.Door != 0 {
		door = b.Name(q.Door)
	}
	switch q.Kind {
	case AskMay:
		q.Words = fmt.Sprintf("May %s pass %s, %s?", person, door, q.When)
	case AskWho:
		q.Words = fmt.Sprintf("Who can come in through %s, %s?", door, q.When)
	case AskWhere:
		q.Words = fmt.Sprintf("Where can %s go, %s?", person, q.When)
	case AskWhen:
		q.Words = fmt.Sprintf("When can %s come in through %s, %s?", person, door, q.When)
	default:
		q.Words = "Name a person, a door, or both, and perhaps a time."
	}
}

// asked is a time that was read.
type asked struct {
	day              hours.Day
	minute           int
	hasDay, hasClock bool
	night            bool
}

var weekdayWords = [7]string{"monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday"}
var monthWords = [12]string{
	"january", "february", "march", "april", "may", "june", "july", "august", "september", "october", "november",
	"december",
}

// readTime takes what says a time out of a question.
func readTime(list []token, now hours.Wall) (w asked) {
	for i := range list {
		t := &list[i]
		if t.used {
			continue
		}
		day, ok := readDay(list, i, now)
		switch {
		case ok && !w.hasDay:
			w.day, w.hasDay = day, true
			t.used = true
		case t.text == "now":
			w.day, w.minute, w.hasDay, w.hasClock, t.used = now.Day, now.Minute, true, true, true
		case t.text == "tonight" || t.text == "night" || t.text == "nights":
			w.night, t.used = true, true
		case t.text == "noon":
			w.minute, w.hasClock, t.used = 12*60, true, true
		case t.text == "midnight":
			w.minute, w.hasClock, t.used = 0, true, true
		default:
			if minute, ok := readClock(t.text); ok && !w.hasClock {
				w.minute, w.hasClock, t.used = minute, true, true
			}
		}
	}
	return w
}

// readDay reads a day at a word: today, Sat, 2026-11-28, 28 Nov, Nov 28.
func readDay(list []token, i int, now hours.Wall) (hours.Day, bool) {
	text := list[i].text
	switch text {
	case "today":
		return now.Day, true
	case "tomorrow":
		return now.Day + 1, true
	case "yesterday":
		return now.Day - 1, true
	}
	if d, err := hours.ParseDay(text); err == nil {
		return d, true
	}
	for n, name := range weekdayWords {
		if text == name || len(text) >= 3 && len(text) <= 5 && strings.HasPrefix(name, text) || text == name+"s" {
			return now.Day + hours.Day((n-now.Day.Weekday()+7)%7), true
		}
	}
	for n, name := range monthWords {
		if len(text) < 3 || !strings.HasPrefix(name, text) {
			continue
		}
		for _, k := range []int{i - 1, i + 1} {
			if k < 0 || k >= len(list) || list[k].used {
				continue
			}
			if d, err := strconv.Atoi(strings.TrimRight(list[k].text, "thndrs.")); err == nil && 1 <= d && d <= 31 {
				list[k].used = true
				year, month, _ := now.Day.Date()
				if time.Month(n+1) < month {
					year++
				}
				return hours.DayOf(year, time.Month(n+1), d), true
			}
		}
	}
	return 0, false
}

// readClock reads 16:30, 7:05, 16h, 4pm, 4:30pm.
func readClock(text string) (int, bool) {
	s, half := text, 0
	for suffix, h := range map[string]int{"am": 1, "pm": 2} {
		if x, ok := strings.CutSuffix(s, suffix); ok {
			s, half = x, h
		}
	}
	hour, minute, colon := strings.Cut(s, ":")
	if x, ok := strings.CutSuffix(s, "h"); ok && half == 0 {
		hour, minute, colon = x, "00", true
	}
	if !colon && half == 0 {
		return 0, false
	}
	h, err := strconv.Atoi(hour)
	m := 0
	if err == nil && colon {
		m, err = strconv.Atoi(minute)
	}
	if err != nil || h < 0 || m < 0 || m > 59 || colon && len(minute) != 2 || h > 23 && !(h == 24 && m == 0) ||
		half != 0 && (h == 0 || h > 12) {
		return 0, false
	}
	switch half {
	case 1:
		h %= 12
	case 2:
		h = h%12 + 12
	}
	return h*60 + m, true
}

// candidate is something that words of a question may mean.
type candidate struct {
	id    site.ID
	words uint64 // of the question, that stand in its name
	score int
}

// mostCandidates is how many are offered for each.
const mostCandidates = 8

// readNames finds the person and the door that the words mean: together they explain the most of them.
func (b *Book) readNames(q *Question, list []token) {
	var open []string
	var at []int
	for i, t := range list {
		if !t.used && len(open) < 60 {
			open, at = append(open, t.text), append(at, i)
		}
	}
	if len(open) == 0 {
		return
	}
	var people, doors []candidate
	if q.Kind != AskWho {
		for _, p := range b.Config.People {
			people = propose(people, p.ID, p.Name, open)
		}
	}
	if q.Kind != AskWhere {
		for i := range b.Config.Doors {
			doors = propose(doors, b.Config.Doors[i].ID, b.Config.Doors[i].Name, open)
		}
	}
	people, doors = likeliest(people), likeliest(doors)
	best, used := -1, uint64(0)
	for _, p := range append([]candidate{{}}, people...) {
		for _, d := range append([]candidate{{}}, doors...) {
			alone := p.id == 0 || d.id == 0
			// one word names one of them
			if p.id == 0 && d.id == 0 || !alone && (p.words&^d.words == 0 || d.words&^p.words == 0) {
				continue
			}
			if n := 1000*bits.OnesCount64(p.words|d.words) + p.score + d.score; n > best {
				best, used = n, p.words|d.words
				q.Person, q.Door = p.id, d.id
			}
		}
	}
	for i := range open {
		if used>>i&1 != 0 {
			list[at[i]].used = true
		}
	}
	for _, p := range people {
		q.People = append(q.People, p.id)
	}
	for _, d := range doors {
		q.Doors = append(q.Doors, d.id)
	}
	toFront(q.People, q.Person)
	toFront(q.Doors, q.Door)
}

// toFront puts an object before the others of a list, where it is in it.
func toFront(list []site.ID, id site.ID) {
	if i := slices.Index(list, id); i > 0 {
		copy(list[1:i+1], list[:i])
		list[0] = id
	}
}

// propose adds something to the candidates where words of the question begin words of its name.
func propose(list []candidate, id site.ID, name string, open []string) []candidate {
	c := candidate{id: id}
	words := strings.FieldsFunc(foldWord(name), func(r rune) bool {
		return !unicode.IsLetter(r) && !unicode.IsDigit(r) &&
			r != '\''
	})
	for i, t := range open {
		for _, w := range words {
			switch {
			case w == t:
				c.words |= 1 << i
				c.score += 20
			case len(t) >= 2 && strings.HasPrefix(w, t):
				c.words |= 1 << i
				c.score += 5
			default:
				continue
			}
			break
		}
	}
	if c.words == 0 {
		return list
	}
	c.score -= len(words) // of two that fit alike, the one of which less is left
	return append(list, c)
}

func likeliest(list []candidate) []candidate {
	slices.SortStableFunc(list, func(a, b candidate) int {
		return cmp.Or(bits.OnesCount64(b.words)-bits.OnesCount64(a.words), b.score-a.score)
	})
	return list[:min(len(list), mostCandidates)]
}

// Spells lists when a person may come in through a door between two instants.
func (b *Book) Spells(person, door site.ID, from, to hours.Instant) (out []hours.Stretch) {
	p, d := b.Effective.Person(person), b.doors[door]
	if p == nil || d == nil {
		return nil
	}
	var ways []way
	places := site.NewPlaces(b.Config)
	for _, g := range p.Levels {
		l := b.levelOf(g.LevelID)
		for _, e := range places.Entries(&l) {
			if s := b.times.Schedules[e.ScheduleID]; e.DoorID == door && s != nil && e.Side.Takes(false) {
				ways = append(ways, way{g.LevelID, e.ScheduleID, s})
			}
		}
	}
	h := b.hand(p, d, ways, false)
	for t := from; t < to; {
		in, _, until := h.at(t)
		until = min(until, to)
		if n := len(out); in && n > 0 && out[n-1].To == t {
			out[n-1].To = until
		} else if in {
			out = append(out, hours.Stretch{From: t, To: until})
		}
		t = until
	}
	return out
}
