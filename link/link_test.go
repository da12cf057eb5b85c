package link

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"io"
	"net"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// pair is two ends of one connection.
func pair(t *testing.T) (server, controller net.Conn) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer l.Close()
	came := make(chan net.Conn, 1)
	go func() {
		c, err := l.Accept()
		assert.NoError(t, err)
		came <- c
	}()
	server, err = net.Dial("tcp", l.Addr().String())
	require.NoError(t, err)
	controller = <-came
	t.Cleanup(func() { server.Close(); controller.Close() })
	return server, controller
}

func sideOf(id Identity, key *Key, kept *Adopted) Side {
	return Side{
		Identity: id, Key: key, Greeted: func() error { return nil }, Keep: func(a Adopted) error { *kept = a; return nil },
	}
}

func adopted(t *testing.T) (server, controller Adopted, id Identity) {
	s, c := pair(t)
	id = NewIdentity()
	done := make(chan error, 1)
	go func() {
		_, err := Answer(c, sideOf(id, nil, &controller))
		done <- err
	}()
	server, err := Adopt(s, NewIdentity())
	require.NoError(t, err)
	require.NoError(t, <-done)
	return server, controller, id
}

// Both sides hold the same key and show the same code; the next time both are others.
func TestAdopt(t *testing.T) {
	a, b, id := adopted(t)
	assert.Equal(t, a.Key, b.Key)
	assert.Equal(t, a.Code, b.Code)
	assert.Regexp(t, `^\d{3} \d{3}$`, a.Code)
	assert.Equal(t, id.Public(), a.Identity)
	again, _, _ := adopted(t)
	assert.NotEqual(t, a.Key, again.Key)
}

// Somebody in between who shows keys of their own to each side is betrayed by the codes.
func TestSomebodyInBetween(t *testing.T) {
	var real, fake Adopted
	s, m1 := pair(t) // the server speaks to the stranger
	m2, c := pair(t) // who speaks to the controller
	done := make(chan error, 2)
	go func() {
		_, err := Answer(m1, sideOf(NewIdentity(), nil, &fake))
		done <- err
	}()
	go func() {
		_, err := Answer(c, sideOf(NewIdentity(), nil, &real))
		done <- err
	}()
	seen, err := Adopt(s, NewIdentity())
	require.NoError(t, err)
	_, err = Adopt(m2, NewIdentity())
	require.NoError(t, err)
	require.NoError(t, errors.Join(<-done, <-done))
	assert.NotEqual(t, seen.Code, real.Code, "one chance in a million")
	assert.NotEqual(t, seen.Identity, real.Identity)
}

// change lets the frames of one side through, the nth of them bent.
func change(from, to net.Conn, n int, bend func(map[string]any)) {
	for i := 0; ; i++ {
		var size [4]byte
		if _, err := io.ReadFull(from, size[:]); err != nil {
			to.Close()
			return
		}
		b := make([]byte, int(size[0])<<24|int(size[1])<<16|int(size[2])<<8|int(size[3]))
		if _, err := io.ReadFull(from, b); err != nil {
			return
		}
		if i == n {
			var v map[string]any
			if json.Unmarshal(b, &v) == nil {
				bend(v)
				b, _ = json.Marshal(v)
			}
		}
		out := &Conn{net: to}
		if out.writeFrame(b) != nil {
			return
		}
	}
}

// Whatever is bent on the way, taking into service fails on one side or the other: never does it succeed with two keys.
func TestBentOnTheWay(t *testing.T) {
	other := bytes.Repeat([]byte{7}, 32)
	for name, c := range map[string]struct {
		byServer bool
		frame    int
		field    string
	}{
		"the server's commitment":    {true, 0, "commit"},
		"the server's nonce":         {true, 1, "nonce"},
		"the server's half":          {true, 1, "ephemeral"},
		"the server's identity":      {true, 1, "identity"},
		"the server's signature":     {true, 1, "signature"},
		"the controller's nonce":     {false, 0, "nonce"},
		"the controller's half":      {false, 0, "ephemeral"},
		"the controller's identity":  {false, 0, "identity"},
		"the controller's signature": {false, 1, "signature"},
	} {
		t.Run(name, func(t *testing.T) {
			s, m1 := pair(t)
			m2, far := pair(t)
			bend := func(v map[string]any) { v[c.field] = other }
			nothing := func(map[string]any) {}
			if c.byServer {
				go change(m1, m2, c.frame, bend)
				go change(m2, m1, -1, nothing)
			} else {
				go change(m1, m2, -1, nothing)
				go change(m2, m1, c.frame, bend)
			}
			var kept Adopted
			done := make(chan error, 1)
			go func() {
				_, err := Answer(far, sideOf(NewIdentity(), nil, &kept))
				far.Close()
				done <- err
			}()
			got, err := Adopt(s, NewIdentity())
			s.Close()
			farErr := <-done
			assert.Error(t, errors.Join(err, farErr))
			if err == nil {
				assert.Equal(t, got.Key, kept.Key)
			}
		})
	}
}

// controller is a fake one that answers on an address of its own.
type controller struct {
	address string
	key     Key
	mu      sync.Mutex
	id      Identity
	serve   func(*Conn)
}

func (f *controller) side(kept *Adopted) Side {
	f.mu.Lock()
	defer f.mu.Unlock()
	return sideOf(f.id, &f.key, kept)
}

func (f *controller) exchange() {
	f.mu.Lock()
	defer f.mu.Unlock()
	f.id = NewIdentity()
}

func fake(t *testing.T, serve func(*Conn)) *controller {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	t.Cleanup(func() { l.Close() })
	f := &controller{address: l.Addr().String(), key: Key{1, 2, 3}, id: NewIdentity(), serve: serve}
	go func() {
		for {
			c, err := l.Accept()
			if err != nil {
				return
			}
			go func() {
				defer c.Close()
				var kept Adopted
				conn, err := Answer(c, f.side(&kept))
				if err == nil {
					f.serve(conn)
				}
			}()
		}
	}()
	return f
}

// answers lets a fake controller answer whatever it is asked, until its link ends.
func answers(c *Conn) {
	for {
		m, err := c.Receive()
		if err != nil || c.Send(Message{ID: m.ID, Body: json.RawMessage(`{}`)}) != nil {
			return
		}
	}
}

type ear struct {
	mu     sync.Mutex
	events []Events
	fail   error
	panics bool
	online chan Status
	lost   chan error
	known  chan []byte
}

func listen() *ear {
	return &ear{online: make(chan Status, 100), lost: make(chan error, 100), known: make(chan []byte, 100)}
}

func (e *ear) hooks() Hooks {
	return Hooks{
		Known: func(id []byte) { e.known <- id }, Online: func(s Status) { e.online <- s }, State: func(Status) {},
		Offline: func(err error) { e.lost <- err },
		Events: func(b Events) error {
			e.mu.Lock()
			defer e.mu.Unlock()
			if e.panics {
				e.panics = false
				panic("a bug")
			}
			e.events = append(e.events, b)
			return e.fail
		},
	}
}

func TestKeeper(t *testing.T) {
	f := fake(t, answers)
	e := listen()
	k := keep(f.address, f.key, nil, time.Minute, e.hooks())
	defer k.Close()
	<-e.online
	assert.Equal(t, f.id.Public(), <-e.known, "remembered from then on")
	require.NoError(t, k.Call(context.Background(), OpBlink, nil, nil))
	f.exchange() // the device was exchanged for another with a copy of the key
	k.mu.Lock()
	k.conn.Close()
	k.mu.Unlock()
	for err := <-e.lost; !errors.Is(err, ErrIdentity); err = <-e.lost {
		require.Error(t, err)
	}
}

// A controller that is connected and says nothing is given up, and dialled again.
func TestSilence(t *testing.T) {
	var turn int
	var mu sync.Mutex
	f := fake(t, func(c *Conn) {
		mu.Lock()
		turn++
		first := turn == 1
		mu.Unlock()
		m, err := c.Receive()
		if err != nil || c.Send(Message{ID: m.ID, Body: json.RawMessage(`{}`)}) != nil {
			return
		}
		if first {
			_, _ = c.Receive() // hangs
			return
		}
		for c.Send(Message{Op: NoticeState, Body: json.RawMessage(`{}`)}) == nil {
			time.Sleep(20 * time.Millisecond)
		}
	})
	e := listen()
	k := keep(f.address, f.key, nil, 200*time.Millisecond, e.hooks())
	defer k.Close()
	<-e.online
	assert.ErrorIs(t, <-e.lost, ErrSilent)
	<-e.online
}

// A panic in a hook costs the session, not the program; what was not stored comes again.
func TestPanicInAHook(t *testing.T) {
	acked := make(chan Ack, 10)
	f := fake(t, func(c *Conn) {
		go answerAcks(c, acked)
		for {
			b, _ := json.Marshal(Events{Log: "l", Events: []Logged{{Seq: 4, Event: json.RawMessage(`{"kind":"no such kind"}`)}}})
			if c.Send(Message{Op: NoticeEvents, Body: b}) != nil {
				return
			}
			time.Sleep(20 * time.Millisecond)
		}
	})
	e := listen()
	e.panics = true
	k := keep(f.address, f.key, nil, time.Minute, e.hooks())
	defer k.Close()
	assert.ErrorContains(t, <-e.lost, "a bug")
	assert.Equal(t, Ack{"l", 4}, <-acked, "what cannot be read is handed over as it is, and acknowledged")
}

func answerAcks(c *Conn, acked chan Ack) {
	for {
		m, err := c.Receive()
		if err != nil {
			return
		}
		if m.Op == OpAck {
			var a Ack
			if json.Unmarshal(m.Body, &a) == nil {
				acked <- a
			}
			continue
		}
		if c.Send(Message{ID: m.ID, Body: json.RawMessage(`{}`)}) != nil {
			return
		}
	}
}

// silentConn reads from memory and swallows what is written.
type silentConn struct {
	net.Conn
	in *bytes.Reader
}

func (c silentConn) Read(b []byte) (int, error)     { return c.in.Read(b) }
func (silentConn) Write(b []byte) (int, error)      { return len(b), nil }
func (silentConn) SetDeadline(time.Time) error      { return nil }
func (silentConn) SetReadDeadline(time.Time) error  { return nil }
func (silentConn) SetWriteDeadline(time.Time) error { return nil }

func frame(b []byte) []byte {
	return append([]byte{byte(len(b) >> 24), byte(len(b) >> 16), byte(len(b) >> 8), byte(len(b))}, b...)
}

// Nothing that arrives makes either side panic, keep a key, or take more memory than a frame.
func FuzzFrames(f *testing.F) {
	f.Add([]byte{})
	f.Add([]byte{0, 0, 0, 2, '{', '}'})
	f.Add([]byte{255, 255, 255, 255})
	f.Add(frame([]byte(`{"op":"adopt","commit":"AAAA"}`)))
	f.Add(append(frame([]byte(`{"op":"adopt"}`)),
		frame([]byte(`{"nonce":"AA==","ephemeral":"AA==","identity":"AA=="}`))...))
	hello, _ := json.Marshal(greeting{Op: "hello", Nonce: make([]byte, 32)})
	proved, _ := json.Marshal(greeting{Proof: make([]byte, 32)})
	f.Add(append(frame(hello), frame(proved)...))
	id, key := NewIdentity(), Key{9}
	f.Fuzz(func(t *testing.T, b []byte) {
		var kept Adopted
		conn, err := Answer(silentConn{in: bytes.NewReader(b)}, sideOf(id, &key, &kept))
		if conn != nil || err == nil && kept.Code != "" {
			t.Fatalf("it was believed: %q", b)
		}
		if _, _, err := Greet(silentConn{in: bytes.NewReader(b)}, key, nil); err == nil {
			t.Fatalf("it was believed: %q", b)
		}
		if _, err := Adopt(silentConn{in: bytes.NewReader(b)}, id); err == nil {
			t.Fatalf("it was believed: %q", b)
		}
		l := &Conn{net: silentConn{in: bytes.NewReader(b)}}
		keyed, err := l.keyed(key, nil, "a", "b")
		if err != nil {
			t.Fatal(err)
		}
		keyed.r = bufio.NewReader(bytes.NewReader(b))
		if _, err := keyed.Receive(); err == nil {
			t.Fatalf("it was opened: %q", b)
		}
	})
}
