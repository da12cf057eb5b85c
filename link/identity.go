package link

import (
	"crypto/ed25519"
	"crypto/rand"
	"errors"
	"fmt"
)

// Identity is the lasting key of one side, by which it is known again: Ed25519 (RFC 8032). The zero value has none.
type Identity struct{ private ed25519.PrivateKey }

// NewIdentity makes one.
func NewIdentity() Identity {
	_, private, err := ed25519.GenerateKey(rand.Reader)
	if err != nil {
		panic(err) // crypto/rand ends the program before it fails
	}
	return Identity{private}
}

// IdentityFrom reads an identity from its seed of 32 bytes.
func IdentityFrom(seed []byte) (Identity, error) {
	if len(seed) != ed25519.SeedSize {
		return Identity{}, fmt.Errorf("link: an identity has %d bytes, not %d", ed25519.SeedSize, len(seed))
	}
	return Identity{ed25519.NewKeyFromSeed(seed)}, nil
}

// Seed is what IdentityFrom reads.
func (i Identity) Seed() []byte { return i.private.Seed() }

// Public is what others know it by, 32 bytes.
func (i Identity) Public() []byte { return []byte(i.private.Public().(ed25519.PublicKey)) }

func (i Identity) sign(what string, transcript []byte) []byte {
	return ed25519.Sign(i.private, append([]byte(what), transcript...))
}

func signed(public []byte, what string, transcript, signature []byte) bool {
	return len(public) == ed25519.PublicKeySize &&
		ed25519.Verify(public, append([]byte(what), transcript...), signature)
}

// ErrIdentity is the answer to a controller that has the key and is another one than was taken into service.
var ErrIdentity = errors.New("link: another controller answers with this controller's key")
