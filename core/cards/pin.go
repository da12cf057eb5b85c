package cards

import (
	"crypto/hmac"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
)

// PINHash is a PIN under the key of the site: HMAC-SHA-256 (RFC 2104), cut to 16 bytes.
type PINHash [16]byte

// HashPIN hashes a PIN with the key of the site.
func HashPIN(key []byte, pin string) PINHash {
	m := hmac.New(sha256.New, key)
	m.Write([]byte(pin))
	return PINHash(m.Sum(nil)[:16])
}

// MarshalText writes the hash in hexadecimal.
func (h PINHash) MarshalText() ([]byte, error) { return hex.AppendEncode(nil, h[:]), nil }

// UnmarshalText reads the hash in hexadecimal.
func (h *PINHash) UnmarshalText(text []byte) error {
	if len(text) != 2*len(h) {
		return fmt.Errorf("a PIN hash has %d hexadecimal digits", 2*len(h))
	}
	_, err := hex.Decode(h[:], text)
	return err
}

// DuressPIN returns the PIN that grants and raises a silent alarm: the last digit plus 1, 9 becoming 0.
func DuressPIN(pin string) string {
	if pin == "" {
		return ""
	}
	b := []byte(pin)
	last := len(b) - 1
	b[last] = '0' + (b[last]-'0'+1)%10
	return string(b)
}

// CheckPIN refuses what is not a PIN of the given length, and the trivial ones: one digit only, or digits
// that count up or down.
func CheckPIN(pin string, length int) error {
	if len(pin) != length {
		return fmt.Errorf("the PIN has %d digits here", length)
	}
	same, up, down := true, true, true
	for i := range len(pin) {
		if pin[i] < '0' || pin[i] > '9' {
			return errors.New("a PIN is digits only")
		}
		if i == 0 {
			continue
		}
		step := int(pin[i]) - int(pin[i-1])
		same = same && step == 0
		up = up && (step == 1 || step == -9)
		down = down && (step == -1 || step == 9)
	}
	if same || up || down {
		return errors.New("this PIN is too easy to guess; not one digit repeated, nor digits in a row")
	}
	return nil
}
