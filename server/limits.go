package server

import (
	"container/list"
	"context"
	"crypto/sha256"
	"net/netip"
	"strings"
	"sync"
	"time"

	"golang.org/x/time/rate"
)

// limits slows down who guesses passwords. By address it counts all tries; by name and address together it counts
// those at one name, so that a stranger elsewhere never locks the owner out; by name alone it only makes the answer
// slower. Keys are hashes, so that long names take no room; of too many the oldest goes.
type limits struct {
	mu  sync.Mutex
	at  map[[16]byte]*list.Element
	old *list.List // of *limit, the one touched longest ago at the back
}

type limit struct {
	key  [16]byte
	rate *rate.Limiter
}

// mostLimits is how many are remembered.
const mostLimits = 20000

// How many tries come at once, and how soon the next one comes back.
const (
	addressTries, addressEvery = 40, 2 * time.Second
	pairTries, pairEvery       = 8, 10 * time.Second
	nameTries, nameEvery       = 20, 10 * time.Second
	slowest                    = 2 * time.Second
)

func newLimits() *limits { return &limits{at: map[[16]byte]*list.Element{}, old: list.New()} }

func keyOf(parts ...string) [16]byte {
	sum := sha256.Sum256([]byte(strings.Join(parts, "\x00")))
	return [16]byte(sum[:16])
}

// of returns the limiter of a key, and makes it the newest.
func (l *limits) of(key [16]byte, tries int, every time.Duration) *rate.Limiter {
	l.mu.Lock()
	defer l.mu.Unlock()
	if e, ok := l.at[key]; ok {
		l.old.MoveToFront(e)
		return e.Value.(*limit).rate
	}
	if l.old.Len() >= mostLimits {
		last := l.old.Back()
		delete(l.at, last.Value.(*limit).key)
		l.old.Remove(last)
	}
	r := rate.NewLimiter(rate.Every(every), tries)
	l.at[key] = l.old.PushFront(&limit{key, r})
	return r
}

// allow takes one try at a name from an address, the address first.
func (l *limits) allow(name, address string) bool {
	name, address = strings.ToLower(name), network(address)
	return l.of(keyOf("address", address), addressTries, addressEvery).Allow() &&
		l.of(keyOf("pair", name, address), pairTries, pairEvery).Allow()
}

// slow waits where a name is tried very often, from wherever.
func (l *limits) slow(ctx context.Context, name string) {
	if l.of(keyOf("name", strings.ToLower(name)), nameTries, nameEvery).Allow() {
		return
	}
	select {
	case <-ctx.Done():
	case <-time.After(slowest):
	}
}

// forget gives somebody who has signed in their tries back.
func (l *limits) forget(name, address string) {
	l.mu.Lock()
	defer l.mu.Unlock()
	name, address = strings.ToLower(name), network(address)
	for _, key := range [][16]byte{keyOf("address", address), keyOf("pair", name, address)} {
		if e, ok := l.at[key]; ok {
			l.old.Remove(e)
			delete(l.at, key)
		}
	}
}

// network is what counts as one address: of IPv6 the first 64 bits, which one customer has (RFC 6177 is about more).
func network(address string) string {
	a, err := netip.ParseAddr(address)
	if err != nil {
		return address
	}
	if a = a.Unmap(); a.Is6() {
		p, _ := a.WithZone("").Prefix(64) // fails only for a length that no address has
		return p.String()
	}
	return a.String()
}
