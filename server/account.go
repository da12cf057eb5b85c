package server

import (
	"context"
	"net/http"
	"slices"

	"github.com/alexedwards/scs/v2"
	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"

	"amberkeystone/core/hours"
)

// Visit is a session of the person who is signed in.
type Visit struct {
	ID      string        `json:"id"`
	Since   hours.Instant `json:"since" doc:"Unix milliseconds"`
	Address string        `json:"address"`
	Here    bool          `json:"here" doc:"The one that asks"`
}

type passwordChange struct {
	Body struct {
		Old string `json:"old" maxLength:"500" title:"Present password"`
		New string `json:"new" maxLength:"500" title:"New password"`
	}
	Address string `json:"-"`
}

func (i *passwordChange) Resolve(ctx huma.Context) []error {
	i.Address = humagin.Unwrap(ctx).ClientIP()
	return nil
}

// changePassword changes the password of who is signed in and ends all their other sessions.
func (s *Server) changePassword(ctx context.Context, in *passwordChange) (*output[[]Visit], error) {
	name := s.who(ctx)
	if !s.limits.allow(name, in.Address) {
		return nil, tooManyTries()
	}
	u, err := s.Store.UserByName(ctx, name)
	if err != nil {
		return nil, say(err)
	}
	right, err := s.right(ctx, in.Body.Old, u.Password)
	if err != nil {
		return nil, err
	}
	if !right {
		return nil, huma.Error422UnprocessableEntity("The present password is not right; nothing was changed.",
			&huma.ErrorDetail{Location: "old", Message: "this is not your present password"})
	}
	if words := weakPassword(name, in.Body.New); words != "" {
		return nil, huma.Error422UnprocessableEntity(
			"The new password is not good enough: "+words,
			&huma.ErrorDetail{Location: "new", Message: words},
		)
	}
	hash, err := s.hash(ctx, in.Body.New)
	if err != nil {
		return nil, err
	}
	if err := s.Store.SetPassword(ctx, name, hash); err != nil {
		return nil, say(err)
	}
	s.limits.forget(name, in.Address)
	return s.endOthers(ctx)
}

// visits lists the sessions of who is signed in, the newest first; tokens are those under which they are stored.
func (s *Server) visits(ctx context.Context) (list []Visit, tokens map[string]string, err error) {
	data, err := s.Store.SessionsOf(ctx, s.who(ctx))
	if err != nil {
		return nil, nil, err
	}
	list, tokens = []Visit{}, map[string]string{}
	for token, b := range data {
		_, values, err := scs.GobCodec{}.Decode(b)
		if err != nil {
			return nil, nil, err
		}
		v := Visit{}
		v.ID, _ = values["id"].(string)
		v.Address, _ = values["address"].(string)
		since, _ := values["since"].(int64)
		v.Since, v.Here = hours.Instant(since), v.ID == s.sessions.GetString(ctx, "id")
		tokens[v.ID] = token
		list = append(list, v)
	}
	slices.SortFunc(list, func(a, b Visit) int { return int(b.Since - a.Since) })
	return list, tokens, nil
}

// endOthers ends the other sessions of who is signed in; their live screens are cut off at once.
func (s *Server) endOthers(ctx context.Context) (*output[[]Visit], error) {
	list, tokens, err := s.visits(ctx)
	if err != nil {
		return nil, err
	}
	for _, v := range list {
		if v.Here {
			continue
		}
		if err := s.Store.SessionDelete(ctx, tokens[v.ID]); err != nil {
			return nil, say(err)
		}
		s.hub.cut(v.ID)
	}
	list, _, err = s.visits(ctx)
	return give(list, err)
}

func (s *Server) accountRoutes(api huma.API) {
	huma.Register(
		api,
		huma.Operation{OperationID: "changePassword", Method: http.MethodPost, Path: "/api/account/password",
			MaxBodyBytes: signInBytes, Summary: "Change one's password; ends one's other sessions"},
		s.changePassword,
	)
	huma.Register(
		api,
		huma.Operation{OperationID: "listSessions", Method: http.MethodGet, Path: "/api/account/sessions",
			Summary: "One's sessions"},
		func(ctx context.Context, _ *struct{}) (*output[[]Visit], error) {
			list, _, err := s.visits(ctx)
			return give(list, err)
		},
	)
	huma.Register(
		api,
		huma.Operation{
			OperationID: "endOtherSessions",
			Method:      http.MethodPost,
			Path:        "/api/account/end-other-sessions",
			Summary:     "End one's other sessions",
		},
		func(ctx context.Context, _ *struct{}) (*output[[]Visit], error) { return s.endOthers(ctx) },
	)
}
