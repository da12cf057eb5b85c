package link

import (
	"bufio"
	"crypto/ecdh"
	"crypto/hkdf"
	"crypto/hmac"
	"crypto/rand"
	"crypto/sha256"
	"encoding/binary"
	"errors"
	"fmt"
	"net"
)

// Taking a controller into service. Both sides make a key (X25519, RFC 7748; HKDF, RFC 5869), which never crosses the
// network, and sign what was said with their identities. Whoever sits in between would have to show other keys to
// each side; so both show a short code made from all of it, and a person compares them. The server commits to its
// part before it sees the controller's and shows it afterwards, so that nobody in between can try parts until the
// codes meet (as in ZRTP, RFC 6189, 4.4.1.1): six digits are then one chance in a million, once.

// Adopted is what both sides hold once they have agreed.
type Adopted struct {
	Key      Key
	Identity []byte // public key of the other side
	Code     string // six digits, as 482 913
}

// part is what one side brings to the agreement.
type part struct {
	Nonce, Ephemeral, Identity []byte
}

func (p part) bytes() []byte {
	return append(append(append([]byte(nil), p.Nonce...), p.Ephemeral...), p.Identity...)
}

func (p part) valid() error {
	if len(p.Nonce) != 32 || len(p.Ephemeral) != 32 || len(p.Identity) != 32 {
		return errors.New("link: the other side's part is not whole")
	}
	return nil
}

func newPart(id Identity) (part, *ecdh.PrivateKey, error) {
	private, err := ecdh.X25519().GenerateKey(rand.Reader)
	if err != nil {
		return part{}, nil, err
	}
	return part{nonce(), private.PublicKey().Bytes(), id.Public()}, private, nil
}

// agree works out what both sides hold from what was said.
func agree(mine *ecdh.PrivateKey, theirs []byte, server, controller part) (Adopted, []byte, error) {
	public, err := ecdh.X25519().NewPublicKey(theirs)
	if err != nil {
		return Adopted{}, nil, err
	}
	secret, err := mine.ECDH(public)
	if err != nil {
		return Adopted{}, nil, err
	}
	said := sha256.Sum256(append(server.bytes(), controller.bytes()...))
	k, err := hkdf.Key(sha256.New, secret, said[:], "controller key", 32)
	if err != nil {
		return Adopted{}, nil, err
	}
	sum := sha256.Sum256(append([]byte("code to compare"), said[:]...))
	n := binary.BigEndian.Uint64(sum[:8]) % 1_000_000
	return Adopted{Key: Key(k), Code: fmt.Sprintf("%03d %03d", n/1000, n%1000)}, said[:], nil
}

// Adopt is the server's side, towards a controller that has no key. What it gives is provisional at the controller
// until it is greeted with the key.
func Adopt(c net.Conn, id Identity) (Adopted, error) {
	l := &Conn{net: c, r: bufio.NewReader(c)}
	defer deadline(c)()
	mine, private, err := newPart(id)
	if err != nil {
		return Adopted{}, err
	}
	commit := sha256.Sum256(mine.bytes())
	if err := l.writePlain(greeting{Op: "adopt", Commit: commit[:]}); err != nil {
		return Adopted{}, err
	}
	var g greeting
	if err := l.readPlain(&g); err != nil {
		return Adopted{}, err
	}
	if g.Error != "" {
		return Adopted{}, ErrTaken
	}
	theirs := part{g.Nonce, g.Ephemeral, g.Identity}
	if err := theirs.valid(); err != nil {
		return Adopted{}, err
	}
	a, said, err := agree(private, theirs.Ephemeral, mine, theirs)
	if err != nil {
		return Adopted{}, err
	}
	if err := l.writePlain(greeting{Nonce: mine.Nonce, Ephemeral: mine.Ephemeral, Identity: mine.Identity,
		Signature: id.sign("server", said)}); err != nil {
		return Adopted{}, err
	}
	if err := l.readPlain(&g); err != nil {
		return Adopted{}, err
	}
	if !signed(theirs.Identity, "controller", said, g.Signature) {
		return Adopted{}, ErrIdentity
	}
	a.Identity = theirs.Identity
	return a, nil
}

// answerAdopt is the controller's side; keep remembers the key provisionally, and refuses with an error.
func (l *Conn) answerAdopt(commit []byte, id Identity, keep func(Adopted) error) error {
	if err := keep(Adopted{}); err != nil { // asked before anything is told
		return errors.Join(err, l.writePlain(greeting{Error: err.Error()}))
	}
	mine, private, err := newPart(id)
	if err != nil {
		return err
	}
	if err := l.writePlain(greeting{Nonce: mine.Nonce, Ephemeral: mine.Ephemeral, Identity: mine.Identity}); err != nil {
		return err
	}
	var g greeting
	if err := l.readPlain(&g); err != nil {
		return err
	}
	theirs := part{g.Nonce, g.Ephemeral, g.Identity}
	if err := theirs.valid(); err != nil {
		return err
	}
	if sum := sha256.Sum256(theirs.bytes()); !hmac.Equal(sum[:], commit) {
		return errors.New("link: the other side has changed its part")
	}
	a, said, err := agree(private, theirs.Ephemeral, theirs, mine)
	if err != nil {
		return err
	}
	if !signed(theirs.Identity, "server", said, g.Signature) {
		return ErrIdentity
	}
	a.Identity = theirs.Identity
	if err := keep(a); err != nil {
		return err
	}
	return l.writePlain(greeting{Signature: id.sign("controller", said)})
}
