package cards

// FASC-N: 40 characters of five bits, four of a decimal digit, lowest first, and one of odd parity; the last is a
// longitudinal check over all before it (SEIWG-012, as in FIPS 201 and its FASC-N guidance; quoted from memory). The
// facility code of ours is the agency, the number is the system and the credential: 32-1092446 is agency 32, system 1,
// credential 092446.

// FASCN is the format.
var FASCN = New(Format{
	Name: "FASC-N", Len: 200, BCD: true, Facility: Field{5, 20}, Number: Field{30, 55},
})

// Characters that are no digits.
const (
	startChar    = 11
	fieldChar    = 13
	endChar      = 15
	fascnChars   = 40
	agencyAt     = 1  // four digits
	systemAt     = 6  // four
	credentialAt = 11 // six
)

// char returns character i: its value, and whether its parity is right.
func (b *Bits) char(i int) (v uint64, ok bool) {
	ones := 0
	for k := range 5 {
		if b.At(5*i + k) {
			ones++
			if k < 4 {
				v |= 1 << k
			}
		}
	}
	return v, ones&1 == 1
}

func (b *Bits) setChar(i int, v uint64) {
	ones := 0
	for k := range 4 {
		on := v>>k&1 != 0
		b.set(5*i+k, on)
		if on {
			ones++
		}
	}
	b.set(5*i+4, ones&1 == 0)
}

// frame tells which character must stand at a place; 0 where any digit may.
func frame(i int) uint64 {
	switch i {
	case 0:
		return startChar
	case 5, 10, 17, 19, 21:
		return fieldChar
	case 38:
		return endChar
	}
	return 0
}

// damageFASCN looks at every character: its parity, its place in the frame, whether it is a digit, and the check at the
// end. The detail of a parity is the character, that of the frame the first bit of it, both counted from 1.
func damageFASCN(b *Bits) (Fault, uint64) {
	check := uint64(0)
	for i := range fascnChars {
		v, ok := b.char(i)
		if !ok || i == fascnChars-1 && v != check {
			return WrongParity, uint64(i + 1)
		}
		check ^= v
		if want := frame(i); want != 0 && v != want || want == 0 && v > 9 && i != fascnChars-1 {
			return WrongFixed, uint64(5*i + 1)
		}
	}
	return Fits, 0
}

func (b *Bits) digits(at, n int) (out uint64) {
	for i := at; i < at+n; i++ {
		v, _ := b.char(i)
		out = 10*out + v
	}
	return out
}

func fieldsFASCN(b *Bits) (agency, number uint64) {
	return b.digits(agencyAt, 4), b.digits(systemAt, 4)*tens(6) + b.digits(credentialAt, 6)
}

// encodeFASCN writes a card of series 0, issue 1, of nobody in particular.
func encodeFASCN(agency, number uint64) Bits {
	b := Bits{N: 5 * fascnChars}
	var chars [fascnChars]uint64
	put := func(at, n int, v uint64) {
		for i := at + n - 1; i >= at; i-- {
			chars[i] = v % 10
			v /= 10
		}
	}
	put(agencyAt, 4, agency)
	put(systemAt, 4, number/tens(6))
	put(credentialAt, 6, number%tens(6))
	chars[20] = 1 // individual credential issue
	check := uint64(0)
	for i := range fascnChars - 1 {
		if f := frame(i); f != 0 {
			chars[i] = f
		}
		check ^= chars[i]
		b.setChar(i, chars[i])
	}
	b.setChar(fascnChars-1, check)
	return b
}
