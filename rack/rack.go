package rack

import (
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"os"
	"sync"
	"time"

	"amberkeystone/link"
)

// Rack is a set of stand-in controllers that answer on loopback.
type Rack struct {
	Releases  []link.Release
	units     []*unit
	listeners []net.Listener
	mu        sync.Mutex
	watchers  map[chan struct{}]bool
}

// Open starts the stand-ins, each on its own address, and the rack's list at address.
func Open(dir, address string, specs []Spec) (*Rack, error) {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, err
	}
	releases, err := Releases(dir)
	if err != nil {
		return nil, err
	}
	r := &Rack{watchers: map[chan struct{}]bool{}, Releases: releases}
	l, err := net.Listen("tcp", address)
	if err != nil {
		return nil, err
	}
	r.listeners = append(r.listeners, l)
	for _, s := range specs {
		if err := r.open(dir, s); err != nil {
			return nil, errors.Join(err, r.Close())
		}
	}
	go r.serve(l)
	return r, nil
}

// open starts a stand-in where it was last, else where its spec says.
func (r *Rack) open(dir string, s Spec) error {
	l, err := net.Listen("tcp", s.Address)
	if err != nil {
		return err
	}
	s.Address = l.Addr().String()
	u, err := openUnit(dir, s, r.changed)
	if err != nil {
		return errors.Join(err, l.Close())
	}
	u.mu.Lock()
	defer u.mu.Unlock()
	u.releases, u.given, u.at = r.Releases, s.Address, l
	u.listen = func(address string) error {
		next, err := net.Listen("tcp", address)
		if err != nil {
			return err
		}
		was := u.at
		u.at = next
		go u.serve(next)
		time.AfterFunc(200*time.Millisecond, func() { was.Close() }) // the answer goes by the old one
		return nil
	}
	r.units = append(r.units, u)
	go u.serve(l)
	if to := u.kept.Address; to != "" {
		if err := u.listen(to); err != nil { // the address is gone: it can still be found where it was
			slog.Warn("a stand-in cannot take its address again", "serial", u.Serial, "err", err)
			return nil
		}
		u.Address = to
	}
	return nil
}

// Address is where the rack's list is.
func (r *Rack) Address() string { return r.listeners[0].Addr().String() }

// Close stops the stand-ins.
func (r *Rack) Close() error {
	var err error
	for _, l := range r.listeners {
		err = errors.Join(err, l.Close())
	}
	for _, u := range r.units {
		err = errors.Join(err, u.close())
	}
	return err
}

func (r *Rack) changed() {
	r.mu.Lock()
	defer r.mu.Unlock()
	for ch := range r.watchers {
		select {
		case ch <- struct{}{}:
		default:
		}
	}
}

// request is what the rack's own socket takes: a list, a hand, or a watch.
type request struct {
	Op   string `json:"op"`
	Hand Hand   `json:"hand,omitzero"`
}

type response struct {
	Views    []View         `json:"views,omitempty"`
	Releases []link.Release `json:"releases,omitempty"`
	Error    string         `json:"error,omitempty"`
}

func (r *Rack) serve(l net.Listener) {
	for {
		c, err := l.Accept()
		if err != nil {
			return
		}
		go func() {
			defer c.Close()
			dec, enc := json.NewDecoder(c), json.NewEncoder(c)
			for {
				var q request
				if dec.Decode(&q) != nil {
					return
				}
				if q.Op == "watch" {
					r.watch(c, enc)
					return
				}
				if enc.Encode(r.do(q)) != nil {
					return
				}
			}
		}()
	}
}

func (r *Rack) views() []View {
	var out []View
	for _, u := range r.units {
		out = append(out, u.view())
	}
	return out
}

func (r *Rack) do(q request) response {
	switch q.Op {
	case "list":
		return response{Views: r.views()}
	case "releases":
		return response{Releases: r.Releases}
	}
	for _, u := range r.units {
		if u.Serial != q.Hand.Serial {
			continue
		}
		if err := u.hand(q.Hand); err != nil {
			return response{Error: err.Error()}
		}
		return response{Views: []View{u.view()}}
	}
	return response{Error: fmt.Sprintf("no stand-in has serial %q", q.Hand.Serial)}
}

// watch sends everything once and again whenever something changes, at most 20 times a second.
func (r *Rack) watch(c net.Conn, enc *json.Encoder) {
	ch := make(chan struct{}, 1)
	r.mu.Lock()
	r.watchers[ch] = true
	r.mu.Unlock()
	defer func() {
		r.mu.Lock()
		delete(r.watchers, ch)
		r.mu.Unlock()
	}()
	for {
		c.SetWriteDeadline(time.Now().Add(5 * time.Second))
		if enc.Encode(response{Views: r.views()}) != nil {
			return
		}
		time.Sleep(50 * time.Millisecond)
		select {
		case <-ch:
		case <-time.After(time.Second): // feedback and blinking end by themselves
		}
	}
}
