// Package server is the application over HTTP: the API as OpenAPI describes it, sign-in, live state, and the
// built web pages. It asks the core for every rule of the job.
package server

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"net/http"
	"strings"
	"sync"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"
	"github.com/gin-gonic/gin"

	"amberkeystone/core/hours"
	"amberkeystone/core/prove"
	"amberkeystone/core/review"
	"amberkeystone/core/site"
	"amberkeystone/link"
	"amberkeystone/rack"
	"amberkeystone/store"
)

// Options are how a server is set up.
type Options struct {
	Store *store.Store
	Rack  string // address of the stand-ins' list; empty: none
	Web   fs.FS  // the built web pages
	// SecureCookies sends the session cookie over HTTPS only; off for plain HTTP on loopback.
	SecureCookies bool
	// TrustedProxies are the addresses, or networks as 10.0.0.0/8, of proxies whose word on where a request comes from
	// is taken; none: nobody's.
	TrustedProxies []string
	// FirstCode is asked of the first administrator; empty: it is not.
	FirstCode string
	// DemoSignIn is shown on the sign-in page, because the data is demo data.
	DemoSignIn *DemoSignIn
	Now        func() time.Time
}

// DemoSignIn is the sign-in of the demo.
type DemoSignIn struct {
	Name     string `json:"name"`
	Password string `json:"password"`
}

// Server is the application.
type Server struct {
	Options
	rack     rack.Client
	sessions *scs.SessionManager
	limits   *limits
	hashing  hashing
	hub      *hub
	states   *states
	pinKey   []byte
	identity link.Identity // by which controllers know this server when they are taken into service
	stop     context.CancelFunc
	ctx      context.Context

	mu       sync.RWMutex
	force    inForce
	applyErr error         // why the newest commit is not in force
	applied  chan struct{} // closed when force or applyErr has changed
	tryNow   chan struct{} // holds one where somebody waits for another try
	zones    map[string]*hours.Zone
	units    map[site.ID]*unit
	held     map[site.ID]held
	racks    map[string]rack.View // what the rack shows, by serial
	asked    map[string]rack.View // those that were asked by their address
	newest   newest               // firmware that lies ready
	foundAs  string               // what was told last of those that were found; of rackSeen alone

	effects      effects // that were told lately
	imports      imports
	enrolling    enrolling
	aheadMu      sync.Mutex // over the suspensions and orders that wait
	whereabouts  whereabouts
	clearances   clearances
	passing      passing
	orderLocks   sync.Map // of each controller a *sync.Mutex: it is told of one order at a time
	reviewed     []review.Finding
	reviewedFor  *prove.Book
	reviewedAt   hours.Instant // the hour
	reviewedLive string        // and for which state of the controllers
	reacting     reacting
	calling      chan struct{} // a call waits to be made
}

// New loads the configuration and begins to hold the links to its controllers. Close ends it.
func New(ctx context.Context, o Options) (*Server, error) {
	if o.Now == nil {
		o.Now = time.Now
	}
	key, identity, err := secrets(ctx, o.Store)
	if err != nil {
		return nil, err
	}
	if err := o.Store.EnsureBasics(ctx); err != nil {
		return nil, err
	}
	s := &Server{
		Options:  o,
		rack:     rack.Client{Address: o.Rack},
		limits:   newLimits(),
		hashing:  make(hashing, hashesAtOnce),
		hub:      newHub(),
		states:   newStates(),
		pinKey:   key,
		identity: identity,
		applied:  make(chan struct{}),
		tryNow:   make(chan struct{}, 1),
		calling:  make(chan struct{}, 1),
		reacting: reacting{work: make(chan happened, 4096)},
		zones:    map[string]*hours.Zone{},
		held:     map[site.ID]held{},
		units:    map[site.ID]*unit{},
		racks:    map[string]rack.View{},
	}
	s.ctx, s.stop = context.WithCancel(context.Background())
	s.sessions = newSessions(o)
	if err := s.apply(ctx); err != nil {
		return nil, err
	}
	if err := s.openPlaces(ctx); err != nil {
		return nil, err
	}
	if err := s.openClearances(ctx); err != nil {
		return nil, err
	}
	go s.applyCommits()
	go s.tellStates()
	links, err := o.Store.Links(ctx)
	if err != nil {
		return nil, err
	}
	for _, l := range links {
		s.keep(l)
	}
	if o.Rack != "" {
		s.newest.ask = s.rack.Releases
		go s.rack.Watch(s.ctx, s.rackSeen)
	}
	go s.react()
	go s.makeCalls()
	go s.clockTicks()
	go s.sendPlanned()
	return s, nil
}

// secrets are what the server keeps for itself: the key of PINs, and who it is to controllers.
func secrets(ctx context.Context, st *store.Store) (key []byte, identity link.Identity, err error) {
	if key, err = st.Secret(ctx, "pin key"); err != nil {
		return nil, identity, err
	}
	seed, err := st.Secret(ctx, "identity")
	if err != nil {
		return nil, identity, err
	}
	identity, err = link.IdentityFrom(seed)
	return key, identity, err
}

// Close ends the links.
func (s *Server) Close() {
	s.stop()
	s.hub.close()
	s.mu.Lock()
	units := s.units
	s.units = map[site.ID]*unit{}
	s.mu.Unlock()
	for _, u := range units {
		u.keeper.Close()
	}
}

func (s *Server) now() hours.Instant { return hours.At(s.Now()) }

func (s *Server) current() *prove.Book { return s.present().Book }

// zone lists the offsets of a zone from last year's start on through the three years to come, so that an image holds
// three years at any time and changes for this only at new year.
func (s *Server) zone(name string) *hours.Zone {
	year := s.Now().UTC().Year()
	key := name + time.Date(year, 1, 1, 0, 0, 0, 0, time.UTC).Format(" 2006")
	s.mu.RLock()
	z, ok := s.zones[key]
	s.mu.RUnlock()
	if ok {
		return z
	}
	loc, err := time.LoadLocation(name)
	if err != nil {
		loc = time.UTC
	}
	made := hours.ZoneFrom(
		loc,
		hours.At(time.Date(year-1, 1, 1, 0, 0, 0, 0, time.UTC)),
		hours.At(time.Date(year+4, 1, 1, 0, 0, 0, 0, time.UTC)),
	)
	made.Name = name
	s.mu.Lock()
	defer s.mu.Unlock()
	if z, ok := s.zones[key]; ok { // one zone is told from another by its address
		return z
	}
	s.zones[key] = &made
	return &made
}

// Handler is the whole application as an HTTP handler.
func (s *Server) Handler() (http.Handler, error) {
	gin.SetMode(gin.ReleaseMode)
	g := gin.New()
	if err := g.SetTrustedProxies(s.TrustedProxies); err != nil {
		return nil, fmt.Errorf("trusted proxies: %w", err)
	}
	g.Use(gin.CustomRecovery(func(c *gin.Context, err any) {
		slog.Error("panic while answering", "path", c.Request.URL.Path, "err", err)
		c.AbortWithStatusJSON(
			http.StatusInternalServerError,
			gin.H{"title": "Something went wrong here; nothing was written."},
		)
	}))
	s.API(g)
	g.GET("/api/live", s.live)
	g.GET("/api/site-file", s.siteFile)
	g.GET("/api/hardware-schedule.csv", s.hardwareCSV)
	g.GET("/api/calendars/:name", s.calendarFile)
	g.Match([]string{http.MethodGet, http.MethodPut, http.MethodDelete}, "/api/photos/:id", s.photo)
	g.GET("/api/people.csv", s.peopleCSV)
	g.GET("/api/matrix.csv", s.matrixCSV)
	g.GET("/api/rights.csv", s.rightsCSV)
	if s.Web != nil {
		g.NoRoute(s.pages)
	}
	guard := http.NewCrossOriginProtection()
	return headers(compressed(guard.Handler(s.sessions.LoadAndSave(s.signedIn(g))))), nil
}

// API registers every operation and returns their description.
func (s *Server) API(g *gin.Engine) huma.API {
	config := huma.DefaultConfig("Amber Keystone", "1.0.0")
	config.DocsPath, config.SchemasPath, config.OpenAPIPath = "", "", "/api/openapi"
	config.CreateHooks = nil // no $schema links in answers
	config.Formats = map[string]huma.Format{"application/json": jsonFormat, "json": jsonFormat}
	config.Info.Description = "Doors, people, hours and proof. Writes carry the revision they were based on."
	huma.DefaultArrayNullable = false
	api := humagin.New(g, config)
	s.authRoutes(api)
	s.objectRoutes(api)
	s.hoursRoutes(api)
	s.controllerRoutes(api)
	s.sendRoutes(api)
	s.benchRoutes(api)
	s.askRoutes(api)
	s.peopleRoutes(api)
	s.levelRoutes(api)
	s.questionRoutes(api)
	s.rightsRoutes(api)
	s.importRoutes(api)
	s.enrolRoutes(api)
	s.watchRoutes(api)
	describeFields(api)
	return api
}

func headers(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		h.Set(
			"Content-Security-Policy",
			"default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'",
		)
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "no-referrer")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		h.Set("Permissions-Policy", "camera=(), microphone=(), geolocation=()")
		if strings.HasPrefix(r.URL.Path, "/api/") {
			h.Set("Cache-Control", "no-store")
		}
		next.ServeHTTP(w, r)
	})
}

// say turns an error of the core or the store into an answer with the field and the mend.
func say(err error) error {
	var faults site.Faults
	var taken *store.Taken
	var conflict *store.Conflict
	var inUse *store.InUse
	switch {
	case err == nil:
		return nil
	case errors.As(err, &faults):
		details := make([]error, len(faults))
		for i, f := range faults {
			details[i] = &huma.ErrorDetail{Location: f.Field, Message: f.Words}
		}
		return huma.Error422UnprocessableEntity("Not saved: "+faults[0].Words, details...)
	case errors.As(err, &taken):
		return huma.Error422UnprocessableEntity(
			"Not saved: "+taken.Words,
			&huma.ErrorDetail{Location: taken.Field, Message: taken.Words},
		)
	case errors.As(err, &conflict):
		return huma.Error409Conflict(conflict.Error())
	case errors.As(err, &inUse):
		return huma.Error409Conflict(inUse.Error())
	case errors.Is(err, store.ErrFull):
		return huma.NewError(http.StatusInsufficientStorage, "", err)
	case errors.Is(err, store.ErrMissing):
		return huma.Error404NotFound("It does not exist, or no longer.")
	}
	return err
}
