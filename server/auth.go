package server

import (
	"context"
	"log/slog"
	"net"
	"net/http"
	"strings"
	"sync"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/alexedwards/scs/v2"
	"github.com/danielgtaylor/huma/v2"
	"golang.org/x/time/rate"
)

// limits slows down who guesses passwords: by name and by address.
type limits struct {
	mu  sync.Mutex
	all map[string]*rate.Limiter
}

func newLimits() *limits { return &limits{all: map[string]*rate.Limiter{}} }

// allow takes one try; tries come back at one in 10 seconds, 8 at most.
func (l *limits) allow(key string) bool {
	l.mu.Lock()
	defer l.mu.Unlock()
	if len(l.all) > 10000 {
		clear(l.all)
	}
	r, ok := l.all[key]
	if !ok {
		r = rate.NewLimiter(rate.Every(10*time.Second), 8)
		l.all[key] = r
	}
	return r.Allow()
}

func (l *limits) forget(key string) {
	l.mu.Lock()
	defer l.mu.Unlock()
	delete(l.all, key)
}

func newSessions(o Options) *scs.SessionManager {
	m := scs.New()
	m.Store = sessionStore{o.Store}
	m.Lifetime = 12 * time.Hour
	// No idle timeout: with one, every request would write to the database.
	m.Cookie.Name = "keystone"
	m.Cookie.HttpOnly = true
	m.Cookie.SameSite = http.SameSiteStrictMode
	m.Cookie.Secure = o.SecureCookies
	m.ErrorFunc = func(w http.ResponseWriter, r *http.Request, err error) {
		slog.Error("session", "err", err)
		http.Error(w, "the session could not be read; sign in again", http.StatusServiceUnavailable)
	}
	return m
}

// signedIn lets through to the API only those who have signed in, and to the rest everybody.
func (s *Server) signedIn(next http.Handler) http.Handler {
	open := map[string]bool{"/api/session": true, "/api/sign-in": true, "/api/first-administrator": true}
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if strings.HasPrefix(r.URL.Path, "/api/") && !open[r.URL.Path] && s.sessions.GetString(r.Context(), "name") == "" {
			w.Header().Set("Content-Type", "application/problem+json")
			w.WriteHeader(http.StatusUnauthorized)
			_, _ = w.Write([]byte(`{"status":401,"title":"Unauthorized","detail":"Sign in first."}`))
			return
		}
		next.ServeHTTP(w, r)
	})
}

func (s *Server) who(ctx context.Context) string { return s.sessions.GetString(ctx, "name") }

// Session is who is signed in.
type Session struct {
	Name      string      `json:"name" doc:"Empty: nobody"`
	NeedsUser bool        `json:"needsUser" doc:"There is no administrator yet"`
	Demo      *DemoSignIn `json:"demo,omitempty" doc:"Shown only where the data is demo data"`
}

type sessionOutput struct{ Body Session }

type signIn struct {
	Body struct {
		Name     string `json:"name"`
		Password string `json:"password"`
	}
	Address string
}

func (i *signIn) Resolve(ctx huma.Context) []error {
	i.Address, _, _ = net.SplitHostPort(ctx.RemoteAddr())
	return nil
}

func (s *Server) session(ctx context.Context) (*sessionOutput, error) {
	n, err := s.Store.Users(ctx)
	return &sessionOutput{Session{Name: s.who(ctx), NeedsUser: n == 0, Demo: s.DemoSignIn}}, err
}

func (s *Server) authRoutes(api huma.API) {
	huma.Get(api, "/api/session", func(ctx context.Context, _ *struct{}) (*sessionOutput, error) { return s.session(ctx) })
	huma.Post(api, "/api/first-administrator", func(ctx context.Context, in *signIn) (*sessionOutput, error) {
		name, password := strings.TrimSpace(in.Body.Name), in.Body.Password
		if name == "" {
			return nil, huma.Error422UnprocessableEntity("Give the administrator a name.", &huma.ErrorDetail{Location: "name", Message: "give it a name"})
		}
		if words := weakPassword(name, password); words != "" {
			return nil, huma.Error422UnprocessableEntity("The password is not good enough: "+words, &huma.ErrorDetail{Location: "password", Message: words})
		}
		hash, err := argon2id.CreateHash(password, argon2id.DefaultParams)
		if err != nil {
			return nil, err
		}
		added, err := s.Store.AddFirstUser(ctx, name, hash)
		if err != nil {
			return nil, err
		}
		if !added {
			return nil, huma.Error409Conflict("There already is an administrator. Sign in.")
		}
		return s.enter(ctx, name)
	})
	huma.Post(api, "/api/sign-in", func(ctx context.Context, in *signIn) (*sessionOutput, error) {
		byName, byAddress := "name "+strings.ToLower(in.Body.Name), "address "+in.Address
		if !s.limits.allow(byName) || !s.limits.allow(byAddress) {
			return nil, huma.Error429TooManyRequests("Too many tries. Wait a minute, then try again.")
		}
		u, err := s.Store.UserByName(ctx, in.Body.Name)
		if err != nil { // the same work for a name that does not exist, so that time tells nothing
			u.Password = decoy
		}
		right, cmpErr := argon2id.ComparePasswordAndHash(in.Body.Password, u.Password)
		if err != nil || cmpErr != nil || !right {
			return nil, huma.Error401Unauthorized("This name and password do not belong together.")
		}
		s.limits.forget(byName)
		s.limits.forget(byAddress)
		return s.enter(ctx, u.Name)
	})
	huma.Post(api, "/api/sign-out", func(ctx context.Context, _ *struct{}) (*sessionOutput, error) {
		if err := s.sessions.Destroy(ctx); err != nil {
			return nil, err
		}
		return &sessionOutput{Session{Demo: s.DemoSignIn}}, nil
	})
}

// decoy is the hash of a password that nobody knows.
var decoy = func() string {
	h, err := argon2id.CreateHash(time.Now().String(), argon2id.DefaultParams)
	if err != nil {
		panic(err) // no randomness: nothing could be signed in anyway
	}
	return h
}()

func (s *Server) enter(ctx context.Context, name string) (*sessionOutput, error) {
	if err := s.sessions.RenewToken(ctx); err != nil {
		return nil, err
	}
	s.sessions.Put(ctx, "name", name)
	return s.session(ctx)
}

func weakPassword(name, password string) string {
	switch {
	case len([]rune(password)) < 10:
		return "use at least 10 characters; a few words do well"
	case strings.EqualFold(name, password):
		return "it must differ from the name"
	case strings.Count(password, password[:1]) == len(password):
		return "it is one character repeated"
	}
	return ""
}
