package server

import (
	"context"
	"strings"
	"sync"

	"github.com/danielgtaylor/huma/v2"

	"amberkeystone/core/hours"
	"amberkeystone/core/pass"
	"amberkeystone/core/site"
	"amberkeystone/store"
)

// enrolling are the doors at whose reader in somebody enrols cards, and until when: what is presented there is nothing
// that anybody has to be told of.
type enrolling struct {
	mu    sync.Mutex
	until map[site.ID]hours.Instant
}

// enrolSlack is how long after its end an enrolment still counts for reads that were on their way.
const enrolSlack = 5 * 1000

// calm makes an ordinary refusal of what would be an alarm, where cards are enrolled.
func (e *enrolling) calm(x *store.Event) {
	e.mu.Lock()
	until := e.until[x.DoorID]
	e.mu.Unlock()
	if x.Alarm && x.Kind == pass.WasRefused.String() && hours.Instant(x.At) < until {
		x.Alarm, x.Outcome = false, "refused"
		x.Detail = strings.TrimSuffix("presented to be enrolled; "+x.Detail, "; ")
	}
}

// EnrolReader is a reader at which cards may be enrolled.
type EnrolReader struct {
	Door   site.ID `json:"door"`
	Name   string  `json:"name"`
	Enrols bool    `json:"enrols" doc:"It is meant for that"`
}

func (s *Server) enrolRoutes(api huma.API) {
	huma.Get(api, "/api/enrol", func(context.Context, *struct{}) (*output[[]EnrolReader], error) {
		out := []EnrolReader{}
		for _, meant := range []bool{true, false} {
			for _, d := range s.current().InOrder() {
				if d.In.Fitted && !d.OutOfUse && (d.In.Enrols || d.Out.Enrols) == meant {
					out = append(out, EnrolReader{d.ID, d.Name, meant})
				}
			}
		}
		return give(out, nil)
	})
	huma.Post(api, "/api/enrol", func(_ context.Context, in *struct {
		Body struct {
			Door    site.ID `json:"door"`
			Seconds int     `json:"seconds" minimum:"0" maximum:"600" doc:"For how long; 0 ends it"`
		}
	}) (*struct{}, error) {
		if s.current().Door(in.Body.Door) == nil {
			return nil, say(store.ErrMissing)
		}
		s.enrolling.mu.Lock()
		defer s.enrolling.mu.Unlock()
		if s.enrolling.until == nil {
			s.enrolling.until = map[site.ID]hours.Instant{}
		}
		s.enrolling.until[in.Body.Door] = s.now() + hours.Instant(in.Body.Seconds)*1000 + enrolSlack
		if in.Body.Seconds == 0 {
			delete(s.enrolling.until, in.Body.Door)
		}
		return nil, nil
	})
}
