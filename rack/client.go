package rack

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"time"

	"amberkeystone/core/hours"
	"amberkeystone/link"
)

// Client speaks to a rack's own socket: what is there, and the hands.
type Client struct{ Address string }

func (c Client) ask(q request) (response, error) {
	conn, err := net.DialTimeout("tcp", c.Address, time.Second)
	if err != nil {
		return response{}, fmt.Errorf("the rack does not answer at %s", c.Address)
	}
	defer conn.Close()
	conn.SetDeadline(time.Now().Add(5 * time.Second))
	if err := json.NewEncoder(conn).Encode(q); err != nil {
		return response{}, err
	}
	var r response
	if err := json.NewDecoder(conn).Decode(&r); err != nil {
		return response{}, err
	}
	if r.Error != "" {
		return response{}, errors.New(r.Error)
	}
	return r, nil
}

// List returns every stand-in.
func (c Client) List() ([]View, error) {
	r, err := c.ask(request{Op: "list"})
	return r.Views, err
}

// Releases lists the firmware that lies in the rack's folder, oldest first.
func (c Client) Releases() ([]link.Release, error) {
	r, err := c.ask(request{Op: "releases"})
	return r.Releases, err
}

// Do carries out a hand and returns what is seen afterwards.
func (c Client) Do(h Hand) (View, error) {
	r, err := c.ask(request{Op: "hand", Hand: h})
	if err != nil || len(r.Views) == 0 {
		return View{}, err
	}
	return r.Views[0], nil
}

// SetClocks sets the clocks of all stand-ins, so that what is tried at them does not hang on the time of the day.
func (c Client) SetClocks(now hours.Instant) error {
	views, err := c.List()
	for _, v := range views {
		if err == nil {
			_, err = c.Do(Hand{Serial: v.Serial, Do: "clock", ByMs: int64(now - v.Clock)})
		}
	}
	return err
}

// Watch calls seen with every stand-in whenever something changes, until the context ends.
func (c Client) Watch(ctx context.Context, seen func([]View)) {
	for ctx.Err() == nil {
		if err := c.watch(ctx, seen); err != nil && ctx.Err() == nil {
			slog.Debug("rack watch ended", "err", err)
		}
		select {
		case <-ctx.Done():
		case <-time.After(time.Second):
		}
	}
}

func (c Client) watch(ctx context.Context, seen func([]View)) error {
	conn, err := net.DialTimeout("tcp", c.Address, time.Second)
	if err != nil {
		return err
	}
	defer conn.Close()
	defer context.AfterFunc(ctx, func() { conn.Close() })()
	if err := json.NewEncoder(conn).Encode(request{Op: "watch"}); err != nil {
		return err
	}
	dec := json.NewDecoder(conn)
	for {
		var r response
		if err := dec.Decode(&r); err != nil {
			return err
		}
		seen(r.Views)
	}
}
