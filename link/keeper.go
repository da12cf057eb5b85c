package link

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net"
	"os"
	"runtime/debug"
	"slices"
	"sync"
	"time"

	"amberkeystone/core/image"
)

// Hooks are what a keeper tells its owner, all of them. They are called from the keeper's own goroutine, one at a time.
// One that panics ends the session with an error, not the program.
type Hooks struct {
	// Known is told the public key of the controller, on each greeting.
	Known  func(identity []byte)
	Online func(Status)
	// Events stores a stretch of the log. Only once it returns nil are the events acknowledged.
	Events  func(Events) error
	State   func(Status)
	Offline func(error)
}

// Keeper holds the link to one controller: it dials, and dials again.
type Keeper struct {
	address  string
	key      Key
	identity []byte // the controller's public key, once it is known
	silence  time.Duration
	hooks    Hooks
	stop     context.CancelFunc
	done     chan struct{}

	mu    sync.Mutex
	conn  *Conn
	next  uint64
	calls map[uint64]chan Message
}

// ErrSilent is why a session ended in which the controller no longer told its state.
var ErrSilent = errors.New("link: the controller says nothing any more")

// ErrOffline is the answer to a call while there is no link.
var ErrOffline = errors.New("the controller does not answer")

const (
	redialFirst = 200 * time.Millisecond
	redialMost  = 3 * time.Second
	// silence is how long a controller may say nothing: three states missed, and a second for the way.
	silence = 3*StateEvery + time.Second
)

// Keep begins to hold the link to the controller with that public key (nil: not known yet). Close ends it.
func Keep(address string, key Key, identity []byte, hooks Hooks) *Keeper {
	return keep(address, key, identity, silence, hooks)
}

func keep(address string, key Key, identity []byte, silence time.Duration, hooks Hooks) *Keeper {
	ctx, cancel := context.WithCancel(context.Background())
	k := &Keeper{address: address, key: key, identity: identity, silence: silence, hooks: hooks,
		stop: cancel, done: make(chan struct{}), calls: map[uint64]chan Message{}}
	go k.run(ctx)
	return k
}

// Close ends the link and waits until the hooks are no longer called.
func (k *Keeper) Close() {
	k.stop()
	k.mu.Lock()
	if k.conn != nil {
		k.conn.Close()
	}
	k.mu.Unlock()
	<-k.done
}

func (k *Keeper) run(ctx context.Context) {
	defer close(k.done)
	wait := redialFirst
	for ctx.Err() == nil {
		err := k.session(ctx, func() { wait = redialFirst })
		if ctx.Err() != nil {
			return
		}
		k.hooks.Offline(err)
		select {
		case <-ctx.Done():
		case <-time.After(wait):
		}
		wait = min(wait*2, redialMost)
	}
}

func (k *Keeper) session(ctx context.Context, greeted func()) (err error) {
	defer func() {
		if r := recover(); r != nil {
			err = fmt.Errorf("link: a hook panicked: %v\n%s", r, debug.Stack())
		}
	}()
	var d net.Dialer
	dialing, cancel := context.WithTimeout(ctx, greetTime)
	c, err := d.DialContext(dialing, "tcp", k.address)
	cancel()
	if err != nil {
		return err
	}
	defer c.Close()
	conn, identity, err := Greet(c, k.key, k.identity)
	if err != nil {
		return err
	}
	conn.Patience(k.silence)
	if k.identity == nil {
		k.identity = identity
		k.hooks.Known(identity)
	}
	k.mu.Lock()
	k.conn = conn
	k.mu.Unlock()
	if ctx.Err() != nil {
		return ctx.Err()
	}
	greeted()
	defer k.drop()

	return k.listen(ctx, conn)
}

// listen takes what the controller tells until the link fails.
func (k *Keeper) listen(ctx context.Context, conn *Conn) error {
	received := make(chan Message)
	failed := make(chan error, 1)
	ended := make(chan struct{})
	defer close(ended)
	go func() {
		for {
			m, err := conn.Receive()
			if err != nil {
				if errors.Is(err, os.ErrDeadlineExceeded) {
					err = ErrSilent
				}
				failed <- err
				return
			}
			if m.ID != 0 {
				k.answer(m)
				continue
			}
			select {
			case received <- m:
			case <-ended:
				return
			}
		}
	}()
	// Notices may come before the answer to the first question, so it is asked beside the loop.
	first := make(chan error, 1)
	var s Status
	go func() {
		hello, cancel := context.WithTimeout(ctx, greetTime)
		defer cancel()
		first <- k.Call(hello, OpStatus, nil, &s)
	}()
	for {
		select {
		case err := <-first:
			if err != nil {
				return err
			}
			k.hooks.Online(s)
		case m := <-received:
			if err := k.notice(m); err != nil {
				return err
			}
		case err := <-failed:
			return err
		}
	}
}

func (k *Keeper) notice(m Message) error {
	switch m.Op {
	case NoticeEvents:
		var e Events
		if err := json.Unmarshal(m.Body, &e); err != nil {
			return err
		}
		if err := k.hooks.Events(e); err != nil {
			return fmt.Errorf("events were not stored, so not acknowledged: %w", err)
		}
		if len(e.Events) == 0 {
			return nil
		}
		return k.post(OpAck, Ack{e.Log, e.Events[len(e.Events)-1].Seq})
	case NoticeState:
		var s Status
		if err := json.Unmarshal(m.Body, &s); err != nil {
			return err
		}
		k.hooks.State(s)
	}
	return nil
}

// drop ends the calls that wait for an answer.
func (k *Keeper) drop() {
	k.mu.Lock()
	defer k.mu.Unlock()
	k.conn = nil
	for id, ch := range k.calls {
		close(ch)
		delete(k.calls, id)
	}
}

func (k *Keeper) answer(m Message) {
	k.mu.Lock()
	ch := k.calls[m.ID]
	delete(k.calls, m.ID)
	k.mu.Unlock()
	if ch != nil {
		ch <- m
	}
}

func (k *Keeper) post(op string, body any) error {
	b, err := json.Marshal(body)
	if err != nil {
		return err
	}
	k.mu.Lock()
	conn := k.conn
	k.mu.Unlock()
	if conn == nil {
		return ErrOffline
	}
	return conn.Send(Message{Op: op, Body: b})
}

// Call asks the controller and waits for its answer, which goes into out unless that is nil.
func (k *Keeper) Call(ctx context.Context, op string, in, out any) error {
	body, err := json.Marshal(in)
	if err != nil {
		return err
	}
	ch := make(chan Message, 1)
	k.mu.Lock()
	conn := k.conn
	if conn == nil {
		k.mu.Unlock()
		return ErrOffline
	}
	k.next++
	id := k.next
	k.calls[id] = ch
	k.mu.Unlock()
	if err := conn.Send(Message{ID: id, Op: op, Body: body}); err != nil {
		return ErrOffline
	}
	select {
	case m, ok := <-ch:
		switch {
		case !ok:
			return ErrOffline
		case m.Error != "":
			return errors.New(m.Error)
		case out == nil:
			return nil
		}
		return json.Unmarshal(m.Body, out)
	case <-ctx.Done():
		k.mu.Lock()
		delete(k.calls, id)
		k.mu.Unlock()
		return ctx.Err()
	}
}

const partSize = 64 << 10

// Load sends an image, of it the sections that the controller does not hold, and returns the root that the controller
// reports afterwards; whole sends all of it. Progress is told how much of how many bytes has been sent.
func (k *Keeper) Load(
	ctx context.Context, sections []image.Section, whole bool, progress func(sent, size int),
) (string, error) {
	heads := image.Heads(sections)
	var needs LoadNeeds
	if err := k.Call(ctx, OpLoadBegin, LoadBegin{image.Root(heads), heads, whole}, &needs); err != nil {
		return "", err
	}
	var todo []image.Section
	sent, size := 0, 0
	for _, s := range sections {
		if slices.Contains(needs.Sections, s.Name) {
			todo, size = append(todo, s), size+s.Size
		}
	}
	progress(0, size)
	for _, s := range todo {
		for at := 0; at < len(s.Bytes); at += partSize {
			part := s.Bytes[at:min(at+partSize, len(s.Bytes))]
			if err := k.Call(ctx, OpLoadPart, LoadPart{s.Name, at, part}, nil); err != nil {
				return "", err
			}
			sent += len(part)
			progress(sent, size)
		}
	}
	var l Loaded
	err := k.Call(ctx, OpLoadEnd, nil, &l)
	return l.Hash, err
}
