package server

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/base32"
	"log/slog"
	"net/http"
	"strings"
	"sync"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/alexedwards/scs/v2"
	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"

	"amberkeystone/store"
)

func newSessions(o Options) *scs.SessionManager {
	m := scs.New()
	m.Store = sessionStore{o.Store}
	m.HashTokenInStore = true // who reads the database or a copy of it can sign in as nobody
	m.Lifetime = 12 * time.Hour
	// No idle timeout: with one, every request would write to the database.
	m.Cookie.Name = "keystone"
	m.Cookie.HttpOnly = true
	m.Cookie.SameSite = http.SameSiteStrictMode
	m.Cookie.Secure = o.SecureCookies
	m.ErrorFunc = func(w http.ResponseWriter, _ *http.Request, err error) {
		slog.Error("session", "err", err)
		http.Error(w, "the session could not be read; sign in again", http.StatusServiceUnavailable)
	}
	return m
}

// signedIn lets through to the API only those who have signed in, and to the rest everybody.
func (s *Server) signedIn(next http.Handler) http.Handler {
	open := map[string]bool{"/api/session": true, "/api/sign-in": true, "/api/first-administrator": true}
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if strings.HasPrefix(r.URL.Path, "/api/") && !open[r.URL.Path] &&
			s.sessions.GetString(r.Context(), "name") == "" {
			w.Header().Set("Content-Type", "application/problem+json")
			w.WriteHeader(http.StatusUnauthorized)
			_, _ = w.Write([]byte(`{"status":401,"title":"Unauthorized","detail":"Sign in first."}`))
			return
		}
		next.ServeHTTP(w, r)
	})
}

func (s *Server) who(ctx context.Context) string { return s.sessions.GetString(ctx, "name") }

// hashing bounds how many passwords are hashed at a time: each takes 64 MB.
type hashing chan struct{}

const (
	hashesAtOnce = 2
	hashPatience = 10 * time.Second
)

// do runs f when there is room for it.
func (h hashing) do(ctx context.Context, f func() error) error {
	ctx, cancel := context.WithTimeout(ctx, hashPatience)
	defer cancel()
	select {
	case h <- struct{}{}:
		defer func() { <-h }()
		return f()
	case <-ctx.Done():
		return huma.Error503ServiceUnavailable("Too many people sign in at this moment. Try again in a few seconds.")
	}
}

func (s *Server) hash(ctx context.Context, password string) (hash string, err error) {
	err = s.hashing.do(ctx, func() (err error) {
		hash, err = argon2id.CreateHash(password, argon2id.DefaultParams)
		return err
	})
	return hash, err
}

// right reports whether a password is the one of a hash.
func (s *Server) right(ctx context.Context, password, hash string) (right bool, err error) {
	err = s.hashing.do(ctx, func() (err error) {
		if hash == "" { // the same work for a name that does not exist, so that time tells nothing
			hash = decoy()
		}
		right, err = argon2id.ComparePasswordAndHash(password, hash)
		return err
	})
	return right, err
}

// decoy is the hash of a password that nobody knows, made when it is first needed.
var decoy = sync.OnceValue(func() string {
	h, err := argon2id.CreateHash(rand.Text(), argon2id.DefaultParams)
	if err != nil {
		panic(err) // no randomness: nothing could be signed in anyway
	}
	return h
})

// NewFirstCode makes the one-time code that the first administrator types, in capitals and digits that are not mistaken
// for each other (RFC 4648, 6).
func NewFirstCode() string {
	b := make([]byte, 5)
	rand.Read(b)
	code := base32.StdEncoding.EncodeToString(b)
	return code[:4] + "-" + code[4:]
}

// Session is who is signed in.
type Session struct {
	Name      string      `json:"name" doc:"Empty: nobody"`
	NeedsUser bool        `json:"needsUser" doc:"There is no administrator yet"`
	NeedsCode bool        `json:"needsCode" doc:"The first administrator types the code that stands in the server's log"`
	Demo      *DemoSignIn `json:"demo,omitempty" doc:"Shown only where the data is demo data"`
}

type sessionOutput struct{ Body Session }

// credentials are what somebody signs in with, bounded so that nobody fills the memory with them.
type credentials struct {
	Name     string `json:"name" maxLength:"100" title:"Name"`
	Password string `json:"password" maxLength:"500" title:"Password"`
	Code     string `json:"code,omitempty" maxLength:"100" title:"Code" doc:"Of the first administrator, where the server asks for one"`
}

type signIn struct {
	Body    credentials
	Address string `json:"-"`
}

func (i *signIn) Resolve(ctx huma.Context) []error {
	i.Address = humagin.Unwrap(ctx).ClientIP()
	return nil
}

const signInBytes = 4 << 10

func (s *Server) session(ctx context.Context) (*sessionOutput, error) {
	n, err := s.Store.Users(ctx)
	return &sessionOutput{
		Session{Name: s.who(ctx), NeedsUser: n == 0, NeedsCode: n == 0 && s.FirstCode != "", Demo: s.DemoSignIn},
	}, err
}

func tooManyTries() error {
	return huma.Error429TooManyRequests("Too many tries. Wait a minute, then try again.")
}

// firstAdministrator adds the first one. It looks before it hashes: where there is one already nothing is worked out.
func (s *Server) firstAdministrator(ctx context.Context, in *signIn) (*sessionOutput, error) {
	n, err := s.Store.Users(ctx)
	if err != nil {
		return nil, err
	}
	if n > 0 {
		return nil, thereIsOne()
	}
	if !s.limits.allow("", in.Address) {
		return nil, tooManyTries()
	}
	name, password := strings.TrimSpace(in.Body.Name), in.Body.Password
	if name == "" {
		return nil, huma.Error422UnprocessableEntity(
			"Give the administrator a name.",
			&huma.ErrorDetail{Location: "name", Message: "give it a name"},
		)
	}
	if !sameCode(in.Body.Code, s.FirstCode) {
		return nil, huma.Error422UnprocessableEntity(
			"The code is not the one in the server's log.",
			&huma.ErrorDetail{
				Location: "code",
				Message:  "type the code that the server wrote into its log when it started",
			},
		)
	}
	if words := weakPassword(name, password); words != "" {
		return nil, weak(words)
	}
	hash, err := s.hash(ctx, password)
	if err != nil {
		return nil, err
	}
	added, err := s.Store.AddFirstUser(ctx, name, hash)
	if err != nil {
		return nil, err
	}
	if !added {
		return nil, thereIsOne()
	}
	return s.enter(ctx, name, in.Address)
}

func thereIsOne() error {
	return huma.Error409Conflict("There already is an administrator. Sign in.")
}

func weak(words string) error {
	return huma.Error422UnprocessableEntity(
		"The password is not good enough: "+words,
		&huma.ErrorDetail{Location: "password", Message: words},
	)
}

// sameCode compares a typed code with the one that is wanted; none wanted takes any.
func sameCode(typed, want string) bool {
	plain := func(s string) []byte {
		return []byte(strings.ToUpper(strings.NewReplacer("-", "", " ", "").Replace(s)))
	}
	return want == "" || subtle.ConstantTimeCompare(plain(typed), plain(want)) == 1
}

func (s *Server) enterSignIn(ctx context.Context, in *signIn) (*sessionOutput, error) {
	name := strings.TrimSpace(in.Body.Name)
	if !s.limits.allow(name, in.Address) {
		return nil, tooManyTries()
	}
	s.limits.slow(ctx, name)
	u, err := s.Store.UserByName(ctx, name)
	if err != nil && err != store.ErrMissing {
		return nil, err
	}
	right, err := s.right(ctx, in.Body.Password, u.Password)
	if err != nil {
		return nil, err
	}
	if !right || u.Name == "" {
		return nil, huma.Error401Unauthorized("This name and password do not belong together.")
	}
	s.limits.forget(name, in.Address)
	return s.enter(ctx, u.Name, in.Address)
}

func (s *Server) authRoutes(api huma.API) {
	huma.Get(
		api,
		"/api/session",
		func(ctx context.Context, _ *struct{}) (*sessionOutput, error) { return s.session(ctx) },
	)
	huma.Register(
		api,
		huma.Operation{OperationID: "firstAdministrator", Method: http.MethodPost, Path: "/api/first-administrator",
			MaxBodyBytes: signInBytes, Summary: "Add the first administrator"},
		s.firstAdministrator,
	)
	huma.Register(api, huma.Operation{OperationID: "signIn", Method: http.MethodPost, Path: "/api/sign-in",
		MaxBodyBytes: signInBytes, Summary: "Sign in"}, s.enterSignIn)
	huma.Post(api, "/api/sign-out", func(ctx context.Context, _ *struct{}) (*sessionOutput, error) {
		id := s.sessions.GetString(ctx, "id")
		if err := s.sessions.Destroy(ctx); err != nil {
			return nil, err
		}
		s.hub.cut(id)
		return &sessionOutput{Session{Demo: s.DemoSignIn}}, nil
	})
	s.accountRoutes(api)
}

// enter begins a session of somebody.
func (s *Server) enter(ctx context.Context, name, address string) (*sessionOutput, error) {
	if err := s.sessions.RenewToken(ctx); err != nil {
		return nil, err
	}
	s.sessions.Put(ctx, "name", name)
	s.sessions.Put(ctx, "id", rand.Text())
	s.sessions.Put(ctx, "address", address)
	s.sessions.Put(ctx, "since", time.Now().UnixMilli())
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
