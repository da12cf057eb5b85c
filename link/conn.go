// Package link is how the server and a controller speak: challenge and response with the controller's own
// key, sealed frames, requests with answers, and events that are sent until they are acknowledged.
package link

import (
	"bufio"
	"bytes"
	"crypto/aes"
	"crypto/cipher"
	"crypto/hkdf"
	"crypto/hmac"
	"crypto/rand"
	"crypto/sha256"
	"encoding/binary"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net"
	"sync"
	"time"
)

// Key is a controller's own key.
type Key [32]byte

// ErrKey is the answer to a side that does not have the key.
var ErrKey = errors.New("link: the key is not the controller's")

// ErrTaken is the answer to taking a controller into service that already is.
var ErrTaken = errors.New("link: the controller is in service elsewhere; reset it first")

const (
	maxFrame  = 4 << 20
	maxPlain  = 4 << 10 // of a greeting, before anybody has proved anything
	greetTime = 5 * time.Second
	writeTime = 10 * time.Second
)

// Conn is a link on which both sides have proved that they have the key.
type Conn struct {
	net      net.Conn
	r        *bufio.Reader
	in, out  cipher.AEAD
	received uint64
	patience time.Duration
	mu       sync.Mutex // guards sent and writing
	sent     uint64
}

type greeting struct {
	Op        string `json:"op,omitempty"` // hello or adopt
	Nonce     []byte `json:"nonce,omitempty"`
	Proof     []byte `json:"proof,omitempty"`
	Commit    []byte `json:"commit,omitempty"`
	Ephemeral []byte `json:"ephemeral,omitempty"`
	Identity  []byte `json:"identity,omitempty"`
	Signature []byte `json:"signature,omitempty"`
	Error     string `json:"error,omitempty"`
	Who       *Who   `json:"who,omitempty"`
}

// Who is what a controller tells anybody who asks: nothing that is worth hiding.
type Who struct {
	Serial   string `json:"serial"`
	Model    string `json:"model"`
	Firmware string `json:"firmware"`
	Doors    int    `json:"doors"`
	People   int    `json:"people"`
	Keyed    bool   `json:"keyed"` // it is in service somewhere
	Holds    bool   `json:"holds"` // it holds a configuration
}

// Ask asks whoever answers on a connection who they are.
func Ask(c net.Conn) (Who, error) {
	l := &Conn{net: c, r: bufio.NewReader(c)}
	defer deadline(c)()
	if err := l.writePlain(greeting{Op: "who"}); err != nil {
		return Who{}, err
	}
	var g greeting
	if err := l.readPlain(&g); err != nil {
		return Who{}, err
	}
	if g.Who == nil || g.Who.Serial == "" {
		return Who{}, errors.New("link: it does not say who it is")
	}
	return *g.Who, nil
}

func proof(key Key, side string, a, b []byte) []byte {
	m := hmac.New(sha256.New, key[:])
	m.Write([]byte(side))
	m.Write(a)
	m.Write(b)
	return m.Sum(nil)
}

func seal(key Key, salt []byte, info string) (cipher.AEAD, error) {
	k, err := hkdf.Key(sha256.New, key[:], salt, info, 32)
	if err != nil {
		return nil, err
	}
	block, err := aes.NewCipher(k)
	if err != nil {
		return nil, err
	}
	return cipher.NewGCM(block)
}

// Greet opens the server's side: it proves first, so that a controller tells nothing to a wrong key. The controller
// must then be the one that was taken into service, known by its public key; nil is from before controllers had one,
// and takes whoever has the key. It returns that public key.
func Greet(c net.Conn, key Key, identity []byte) (*Conn, []byte, error) {
	l := &Conn{net: c, r: bufio.NewReader(c)}
	defer deadline(c)()
	mine := nonce()
	if err := l.writePlain(greeting{Op: "hello", Nonce: mine}); err != nil {
		return nil, nil, err
	}
	var g greeting
	if err := l.readPlain(&g); err != nil {
		return nil, nil, err
	}
	theirs := g.Nonce
	if len(theirs) != 32 {
		return nil, nil, ErrKey
	}
	if err := l.writePlain(greeting{Proof: proof(key, "server", mine, theirs)}); err != nil {
		return nil, nil, err
	}
	if err := l.readPlain(&g); err != nil {
		return nil, nil, ErrKey // it closed without a word
	}
	if !hmac.Equal(g.Proof, proof(key, "controller", theirs, mine)) {
		return nil, nil, ErrKey
	}
	salt := append(mine, theirs...)
	if !signed(g.Identity, "greeting", salt, g.Signature) || len(identity) > 0 && !bytes.Equal(identity, g.Identity) {
		return nil, nil, ErrIdentity
	}
	l, err := l.keyed(key, salt, "to server", "to controller")
	return l, g.Identity, err
}

func (l *Conn) keyed(key Key, salt []byte, in, out string) (*Conn, error) {
	var err error
	if l.in, err = seal(key, salt, in); err != nil {
		return nil, err
	}
	l.out, err = seal(key, salt, out)
	return l, err
}

// Side is a controller's side of the link.
type Side struct {
	Identity Identity
	Key      *Key // nil: none, not even provisionally
	// Keep remembers a key provisionally, with the code to show; it refuses with an error. It is first asked with the
	// zero value whether it would.
	Keep func(Adopted) error
	// Greeted is told that somebody has proved to have Key, before they hear of it: from then on it is for good.
	Greeted func() error
	Who     Who
}

// Answer opens the controller's side. Where the other side takes it into service instead, the connection is nil.
func Answer(c net.Conn, side Side) (*Conn, error) {
	l := &Conn{net: c, r: bufio.NewReader(c)}
	defer deadline(c)()
	var g greeting
	if err := l.readPlain(&g); err != nil {
		return nil, err
	}
	if g.Op == "who" {
		return nil, l.writePlain(greeting{Who: &side.Who})
	}
	if g.Op == "adopt" {
		return nil, l.answerAdopt(g.Commit, side.Identity, side.Keep)
	}
	if side.Key == nil || len(g.Nonce) != 32 {
		return nil, ErrKey
	}
	mine, theirs := nonce(), g.Nonce
	if err := l.writePlain(greeting{Nonce: mine}); err != nil {
		return nil, err
	}
	if err := l.readPlain(&g); err != nil {
		return nil, err
	}
	if !hmac.Equal(g.Proof, proof(*side.Key, "server", theirs, mine)) {
		return nil, ErrKey
	}
	if err := side.Greeted(); err != nil {
		return nil, err
	}
	salt := append(theirs, mine...)
	if err := l.writePlain(greeting{Proof: proof(*side.Key, "controller", mine, theirs), Identity: side.Identity.Public(),
		Signature: side.Identity.sign("greeting", salt)}); err != nil {
		return nil, err
	}
	return l.keyed(*side.Key, salt, "to controller", "to server")
}

func nonce() []byte {
	b := make([]byte, 32)
	rand.Read(b)
	return b
}

// deadline bounds the greeting and returns what lifts the bound.
func deadline(c net.Conn) func() {
	c.SetDeadline(time.Now().Add(greetTime))
	return func() { c.SetDeadline(time.Time{}) }
}

func (l *Conn) writeFrame(b []byte) error {
	if len(b) > maxFrame {
		return fmt.Errorf("link: frame of %d bytes", len(b))
	}
	l.net.SetWriteDeadline(time.Now().Add(writeTime))
	_, err := l.net.Write(append(binary.BigEndian.AppendUint32(make([]byte, 0, 4+len(b)), uint32(len(b))), b...))
	return err
}

func (l *Conn) readFrame(most uint32) ([]byte, error) {
	var n [4]byte
	if _, err := io.ReadFull(l.r, n[:]); err != nil {
		return nil, err
	}
	size := binary.BigEndian.Uint32(n[:])
	if size > most {
		return nil, fmt.Errorf("link: frame of %d bytes", size)
	}
	b := make([]byte, size)
	_, err := io.ReadFull(l.r, b)
	return b, err
}

func (l *Conn) writePlain(g greeting) error {
	b, err := json.Marshal(g)
	if err != nil {
		return err
	}
	return l.writeFrame(b)
}

func (l *Conn) readPlain(g *greeting) error {
	b, err := l.readFrame(maxPlain)
	if err != nil {
		return err
	}
	*g = greeting{}
	return json.Unmarshal(b, g)
}

func counter(n uint64) []byte {
	return binary.BigEndian.AppendUint64(make([]byte, 4, 12), n)
}

// Message is a request (ID and Op), its answer (ID), or a notice (Op).
type Message struct {
	ID    uint64          `json:"id,omitempty"`
	Op    string          `json:"op,omitempty"`
	Body  json.RawMessage `json:"body,omitempty"`
	Error string          `json:"error,omitempty"`
}

// Send seals and sends a message. It is safe for concurrent use.
func (l *Conn) Send(m Message) error {
	b, err := json.Marshal(m)
	if err != nil {
		return err
	}
	l.mu.Lock()
	defer l.mu.Unlock()
	sealed := l.out.Seal(nil, counter(l.sent), b, nil)
	l.sent++
	return l.writeFrame(sealed)
}

// Patience is how long Receive waits for a message before it gives the other side up; 0 is for ever.
func (l *Conn) Patience(d time.Duration) { l.patience = d }

// Receive opens the next message. Only one goroutine may receive.
func (l *Conn) Receive() (Message, error) {
	if l.patience > 0 {
		l.net.SetReadDeadline(time.Now().Add(l.patience))
	}
	var m Message
	sealed, err := l.readFrame(maxFrame)
	if err != nil {
		return m, err
	}
	b, err := l.in.Open(nil, counter(l.received), sealed, nil)
	if err != nil {
		return m, ErrKey
	}
	l.received++
	return m, json.Unmarshal(b, &m)
}

// Close closes the link.
func (l *Conn) Close() error { return l.net.Close() }
