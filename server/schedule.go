package server

import (
	"cmp"
	"context"
	"log/slog"
	"net/http"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"

	"amberkeystone/core/cards"
	"amberkeystone/core/door"
	"amberkeystone/core/site"
	"amberkeystone/formats/csvlist"
	"amberkeystone/store"
)

// hardwareCSV is the hardware schedule for a spreadsheet (RFC 4180).
func (s *Server) hardwareCSV(c *gin.Context) {
	c.Header("Content-Disposition", `attachment; filename="hardware-schedule.csv"`)
	c.Header("Content-Type", "text/csv; charset=utf-8")
	c.Status(http.StatusOK)
	rows := [][]string{
		{"Door", "Place", "Controller", "Readers", "Lock", "Without power", "Contact", "Exit request", "Terminals", "Timings",
			"Factory values"},
	}
	for _, r := range s.current().Config.Rows() {
		rows = append(rows, []string{r.Door, r.Place, r.Controller, r.Readers, r.Lock, r.Power, r.Contact, r.Exit,
			r.Terminals, r.Timings,
			strings.Join(r.Factory, ", ")})
	}
	if err := csvlist.Write(c.Writer, rows); err != nil {
		slog.Info("a hardware schedule was not read to its end", "err", err)
	}
}

// FormatShown is a card format: its bits as they lie, and what fits into it.
type FormatShown struct {
	Name         string         `json:"name"`
	BuiltIn      bool           `json:"builtIn"`
	Taken        bool           `json:"taken" doc:"Readers take it"`
	Bits         int            `json:"bits" doc:"0: any length"`
	MostFacility uint64         `json:"mostFacility" doc:"The largest facility code; 0: it has none"`
	MostNumber   uint64         `json:"mostNumber"`
	Facilities   []uint64       `json:"facilities" doc:"Accepted facility codes; none listed: all"`
	Layout       site.OwnFormat `json:"layout" doc:"The bits as they lie; empty of raw and FASC-N"`
	Used         string         `json:"used" doc:"What uses it; empty: nothing"`
	Words        string         `json:"words"`
}

func (s *Server) formats() []FormatShown {
	c := s.current().Config
	out := []FormatShown{}
	for _, f := range c.Settings.AllFormats() {
		x := FormatShown{Name: f.Name, BuiltIn: cards.ByName(f.Name) != nil, Bits: f.Len, Facilities: []uint64{},
			Layout: site.LayoutOf(f),
			Used:   c.FormatUsedBy(f.Name), Words: formatWords(f)}
		if f.Facility.Len > 0 {
			x.MostFacility = f.Most(f.Facility)
		}
		x.MostNumber = f.MostNumber()
		for _, t := range c.Settings.Cards {
			if t.Format == f.Name {
				x.Taken, x.Facilities = true, orNone(t.Facilities)
			}
		}
		out = append(out, x)
	}
	return out
}

func formatWords(f *cards.Format) string {
	switch f.Name {
	case cards.Standard26.Name:
		return "SIA AC-01"
	case cards.Common34.Name, cards.Common37.Name:
		return "a pattern of common practice"
	case cards.FASCN.Name:
		return "40 characters with parity and a check (SEIWG-012)"
	case cards.Raw.Name:
		return "the whole read as one number"
	}
	return "of this installation"
}

// Decoded is a read by one format, and by what readers take.
type Decoded struct {
	Bits     string         `json:"bits"`
	Words    string         `json:"words" doc:"What the readers make of it"`
	Fits     bool           `json:"fits" doc:"It is a card of a format that readers take"`
	Tried    []DecodedBy    `json:"tried" doc:"Every format that there is, and why the read is none of it"`
	Proposed site.OwnFormat `json:"proposed" doc:"A format of this length to begin with"`
}

// DecodedBy is a read by one format.
type DecodedBy struct {
	Format string `json:"format"`
	Fits   bool   `json:"fits"`
	Words  string `json:"words"`
	Value  string `json:"value" doc:"The number as people say it"`
}

// decode reads bits by every format, and by one that is being made.
func (s *Server) decode(text string, own *site.OwnFormat) (Decoded, error) {
	b, err := cards.ParseBits(text)
	if err != nil {
		return Decoded{}, &store.Taken{Field: "bits", Words: err.Error()}
	}
	c := s.current().Config
	accepts := c.Settings.Accepts(nil)
	r := cards.Decode(&b, accepts)
	out := Decoded{
		Bits: b.String(), Words: r.Explain(accepts), Fits: r.Fault == cards.Fits, Tried: []DecodedBy{},
		Proposed: site.ProposeFormat(b.N),
	}
	list := c.Settings.AllFormats()
	if own != nil {
		f, faults := own.Compile()
		if len(faults) > 0 {
			return out, faults
		}
		list = append([]*cards.Format{&f}, list...)
	}
	for _, f := range list {
		one := []cards.Accepts{{Format: f}}
		r := cards.Decode(&b, one)
		d := DecodedBy{Format: f.Name, Fits: r.Fault == cards.Fits, Words: r.Explain(one)}
		if d.Fits {
			d.Value = cards.Number(f.Name, r.Facility, r.Number)
		}
		out.Tried = append(out.Tried, d)
	}
	return out, nil
}

// DoorCourse is what a door does after a grant, and when its power fails.
type DoorCourse struct {
	Power   string        `json:"power" doc:"What the lock does without power, in words"`
	Courses []door.Course `json:"courses"`
	// Lacks says what the firmware of its controller has not yet, feature by feature, in words.
	Lacks map[string]string `json:"lacks"`
}

func (s *Server) formatRoutes(api huma.API) {
	huma.Get(api, "/api/hardware-schedule", func(context.Context, *struct{}) (*output[[]site.HardwareRow], error) {
		return give(s.current().Config.Rows(), nil)
	})
	huma.Get(api, "/api/formats",
		func(context.Context, *struct{}) (*output[[]FormatShown], error) { return give(s.formats(), nil) })
	huma.Post(api, "/api/door-course", func(_ context.Context, in *struct{ Body site.Door }) (*output[DoorCourse], error) {
		in.Body.Name = cmp.Or(in.Body.Name, "-")
		if faults := in.Body.Check(); len(faults) > 0 {
			return nil, say(faults)
		}
		lacks := s.lackingFeatures()[in.Body.ControllerID]
		if lacks == nil {
			lacks = map[string]string{}
		}
		return give(DoorCourse{in.Body.PowerWords(), door.Courses(&in.Body), lacks}, nil)
	})
	huma.Post(api, "/api/decode", func(_ context.Context, in *struct {
		Body struct {
			Bits string          `json:"bits" maxLength:"600" doc:"The read, as ones and zeros"`
			Own  *site.OwnFormat `json:"own,omitempty" doc:"A format that is being made"`
		}
	}) (*output[Decoded], error) {
		return give(s.decode(in.Body.Bits, in.Body.Own))
	})
}
