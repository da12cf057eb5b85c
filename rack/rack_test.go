package rack

import (
	"context"
	"encoding/json"
	"net"
	"os"
	"sync"
	"testing"
	"time"

	"amberkeystone/core/pass"
	"amberkeystone/core/point"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"amberkeystone/core/cards"
	"amberkeystone/core/hours"
	"amberkeystone/core/image"
	"amberkeystone/core/site"
	"amberkeystone/link"
)

func openRack(t *testing.T, dir string) *Rack {
	r, err := Open(dir, "127.0.0.1:0", []Spec{
		{Serial: "T-1", Model: "Test", Ports: 2, People: 10, Address: "127.0.0.1:0"},
	})
	require.NoError(t, err)
	return r
}

func testImage(unlock int) []byte {
	d := site.Door{ID: 1, Port: 1, ControllerID: 9, PlanID: 20, Hardware: site.UsualHardware()}
	d.Unlock = unlock
	c := &site.Config{Settings: site.DefaultSettings(), Doors: []site.Door{d}, Plans: []site.Plan{{ID: 20}}}
	return image.Build(c, 9, hours.Zone{Name: "UTC"}, image.Secrets{}).Bytes()
}

func sections(t *testing.T, b []byte) []image.Section {
	list, err := image.Unpack(b)
	require.NoError(t, err)
	return list
}

func dial(t *testing.T, r *Rack) net.Conn {
	c, err := net.Dial("tcp", r.units[0].Address)
	require.NoError(t, err)
	t.Cleanup(func() { c.Close() })
	return c
}

// adopt takes the unit into service, as a server does that greets it once.
func adopt(t *testing.T, r *Rack) link.Key {
	a, err := link.Adopt(dial(t, r), link.NewIdentity())
	require.NoError(t, err)
	require.Equal(t, a.Code, r.units[0].view().Code, "both sides show the same code")
	_, _, err = link.Greet(dial(t, r), a.Key, a.Identity)
	require.NoError(t, err)
	require.True(t, r.units[0].view().Keyed)
	return a.Key
}

// server is the other end of the link: it stores events as the real one does, unless told to fail.
type server struct {
	mu     sync.Mutex
	fail   bool
	events map[uint64]pass.Fact
	order  []uint64
	came   int
	online chan link.Status
	lost   chan error
}

func newServer() *server {
	return &server{events: map[uint64]pass.Fact{}, online: make(chan link.Status, 100), lost: make(chan error, 100)}
}

func (s *server) hooks() link.Hooks {
	return link.Hooks{
		Known:  func([]byte) {},
		Online: func(st link.Status) { s.online <- st }, State: func(link.Status) {},
		Offline: func(err error) {
			select {
			case s.lost <- err:
			default:
			}
		},
		Events: func(e link.Events) error {
			s.mu.Lock()
			defer s.mu.Unlock()
			s.came += len(e.Events)
			if s.fail {
				return os.ErrClosed
			}
			for _, l := range e.Events {
				var x pass.Fact
				if err := json.Unmarshal(l.Event, &x); err != nil {
					return err
				}
				if _, ok := s.events[x.Seq]; !ok {
					s.events[x.Seq] = x
					s.order = append(s.order, x.Seq)
				}
			}
			return nil
		},
	}
}

func (s *server) seqs() []uint64 {
	s.mu.Lock()
	defer s.mu.Unlock()
	return append([]uint64(nil), s.order...)
}

func (s *server) event(seq uint64) pass.Fact {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.events[seq]
}

// online is a server that has adopted the first unit, and is connected until the test ends.
func online(t *testing.T, r *Rack) (*server, *link.Keeper) {
	s := newServer()
	k := link.Keep(r.units[0].Address, adopt(t, r), nil, s.hooks())
	t.Cleanup(k.Close)
	<-s.online
	return s, k
}

func present(t *testing.T, r *Rack, number uint64) {
	b, err := cards.Standard26.Encode(1, number)
	require.NoError(t, err)
	_, err = Client{r.Address()}.Do(Hand{Serial: "T-1", Do: "present", Point: point.At(point.Reader, 1), Bits: b})
	require.NoError(t, err)
}

func eventually(t *testing.T, what string, f func() bool) {
	t.Helper()
	require.Eventually(t, f, 15*time.Second, 5*time.Millisecond, what)
}

func consecutive(t *testing.T, seqs []uint64) {
	t.Helper()
	for i, s := range seqs {
		require.Equal(t, uint64(i+1), s, "each event once, in order: %v", seqs)
	}
}

func ctx(t *testing.T) context.Context {
	c, cancel := context.WithTimeout(context.Background(), 10*time.Second)
	t.Cleanup(cancel)
	return c
}

// A wrong key gets nothing, and nobody takes over a controller that is in service.
func TestKeys(t *testing.T) {
	r := openRack(t, t.TempDir())
	defer r.Close()
	greet := func(key link.Key, identity []byte) error {
		_, _, err := link.Greet(dial(t, r), key, identity)
		return err
	}
	assert.Error(t, greet(link.Key{1}, nil), "before it is in service no key is right")
	key := adopt(t, r)
	_, err := link.Adopt(dial(t, r), link.NewIdentity())
	assert.ErrorIs(t, err, link.ErrTaken)
	wrong := key
	wrong[31] ^= 1
	assert.ErrorIs(t, greet(wrong, nil), link.ErrKey)
	assert.NoError(t, greet(key, nil))
	assert.NoError(t, greet(key, r.units[0].identity.Public()))
	assert.ErrorIs(t, greet(key, link.NewIdentity().Public()), link.ErrIdentity, "who copied the key is another")
}

// Until somebody proves to have the new key the controller can be taken again: a server that died in between leaves
// nothing that nobody can reach.
func TestKeyIsProvisionalUntilGreeted(t *testing.T) {
	dir := t.TempDir()
	r := openRack(t, dir)
	lost, err := link.Adopt(dial(t, r), link.NewIdentity())
	require.NoError(t, err)
	assert.False(t, r.units[0].view().Keyed)
	second, err := link.Adopt(dial(t, r), link.NewIdentity())
	require.NoError(t, err)
	assert.Equal(t, lost.Identity, second.Identity, "it is the same controller")
	_, _, err = link.Greet(dial(t, r), lost.Key, nil)
	assert.ErrorIs(t, err, link.ErrKey)
	require.NoError(t, r.Close())
	r = openRack(t, dir) // the power goes and comes back
	defer r.Close()
	assert.Equal(t, second.Code, r.units[0].view().Code)
	_, _, err = link.Greet(dial(t, r), second.Key, second.Identity)
	require.NoError(t, err)
	assert.Empty(t, r.units[0].view().Code)
	_, err = link.Adopt(dial(t, r), link.NewIdentity())
	assert.ErrorIs(t, err, link.ErrTaken)
}

// What somebody sends who does not know the protocol never stops a unit from answering the one who does.
func TestNoise(t *testing.T) {
	r := openRack(t, t.TempDir())
	defer r.Close()
	key := adopt(t, r)
	for _, noise := range []string{"", "\x00", "\xff\xff\xff\xff", "\x00\x00\x00\x02{}", "\x00\x00\x00\x05null!",
		"GET / HTTP/1.1\r\n\r\n"} {
		c, err := net.Dial("tcp", r.units[0].Address)
		require.NoError(t, err)
		_, err = c.Write([]byte(noise))
		require.NoError(t, err)
		require.NoError(t, c.Close())
	}
	_, _, err := link.Greet(dial(t, r), key, nil)
	assert.NoError(t, err)
}

func TestLoadAndDecide(t *testing.T) {
	r := openRack(t, t.TempDir())
	defer r.Close()
	s := newServer()
	k := link.Keep(r.units[0].Address, adopt(t, r), nil, s.hooks())
	defer k.Close()
	assert.Empty(t, (<-s.online).Hash)
	im := testImage(5)
	last, all := 0, 0
	hash, err := k.Load(ctx(t), sections(t, im), false, func(sent, size int) { last, all = sent, size })
	require.NoError(t, err)
	assert.Equal(t, image.NameOf(im), hash)
	assert.Equal(t, all, last)
	assert.Greater(t, all, 100)

	_, err = k.Load(ctx(t), sections(t, testImage(9)), false, func(_, size int) { all = size })
	require.NoError(t, err)
	assert.Less(t, all, len(testImage(9))*3/4, "only the section that differs is sent")
	hash, err = k.Load(ctx(t), sections(t, im), false, func(int, int) {})
	require.NoError(t, err)

	damaged := sections(t, testImage(7))
	damaged[0].Bytes = append([]byte(nil), damaged[0].Bytes...)
	damaged[0].Bytes[9] ^= 1
	_, err = k.Load(ctx(t), damaged, false, func(int, int) {})
	assert.ErrorContains(t, err, `section "hardware" is damaged`)
	_, err = k.Load(ctx(t), sections(t, im)[1:], false, func(int, int) {})
	assert.ErrorContains(t, err, "layout 0")
	var st link.Status
	require.NoError(t, k.Call(ctx(t), link.OpStatus, nil, &st))
	assert.Equal(t, hash, st.Hash, "what cannot be used leaves the old one in force")
	assert.Error(t, k.Call(ctx(t), "nonsense", nil, nil))

	present(t, r, 7)
	eventually(t, "the refusal comes", func() bool { n := len(s.seqs()); return n > 0 && s.event(uint64(n)).Number == 7 })
	consecutive(t, s.seqs())
}

func TestClock(t *testing.T) {
	r := openRack(t, t.TempDir())
	defer r.Close()
	_, k := online(t, r)
	_, err := Client{r.Address()}.Do(Hand{Serial: "T-1", Do: "clock", ByMs: 3_600_000})
	require.NoError(t, err)
	var st link.Status
	require.NoError(t, k.Call(ctx(t), link.OpStatus, nil, &st))
	assert.InDelta(t, time.Hour.Seconds(), st.Clock.Sub(hours.At(time.Now())).Seconds(), 2)
	require.NoError(t, k.Call(ctx(t), link.OpSetClock, link.Clock{Now: hours.At(time.Now())}, &st))
	assert.InDelta(t, 0, st.Clock.Sub(hours.At(time.Now())).Seconds(), 2)
	require.NoError(t, k.Call(ctx(t), link.OpBlink, nil, nil))
	views, err := Client{r.Address()}.List()
	require.NoError(t, err)
	assert.True(t, views[0].Blinking)
}

// Off the network the unit decides alone; on its return every event comes once, in order, with its own time.
func TestOffline(t *testing.T) {
	r := openRack(t, t.TempDir())
	defer r.Close()
	s, k := online(t, r)
	im := testImage(5)
	_, err := k.Load(ctx(t), sections(t, im), false, func(int, int) {})
	require.NoError(t, err)
	hand := Client{r.Address()}
	_, err = hand.Do(Hand{Serial: "T-1", Do: "network"})
	require.NoError(t, err)
	<-s.lost
	assert.ErrorIs(t, k.Call(ctx(t), link.OpStatus, nil, nil), link.ErrOffline)
	before := hours.At(time.Now())
	for n := range uint64(250) { // more than one stretch
		present(t, r, n)
	}
	v, err := hand.Do(Hand{Serial: "T-1", Do: "network", On: true})
	require.NoError(t, err)
	require.GreaterOrEqual(t, v.Kept, 250)
	<-s.online
	eventually(t, "all events", func() bool { return uint64(len(s.seqs())) == r.units[0].panelSeq() })
	consecutive(t, s.seqs())
	assert.GreaterOrEqual(t, s.event(10).At, before-1000)
	eventually(t, "all acknowledged", func() bool { return r.units[0].view().Kept == 0 })
}

func (u *unit) panelSeq() uint64 {
	u.mu.Lock()
	defer u.mu.Unlock()
	return u.panel.Seq()
}

// A server that could not store an event does not acknowledge it, and gets it again.
func TestNotStoredNotAcknowledged(t *testing.T) {
	r := openRack(t, t.TempDir())
	defer r.Close()
	s := newServer()
	s.fail = true
	k := link.Keep(r.units[0].Address, adopt(t, r), nil, s.hooks())
	defer k.Close()
	<-s.online
	im := testImage(5)
	// the link may break under it: the events it causes are not stored
	_, _ = k.Load(ctx(t), sections(t, im), false, func(int, int) {})
	eventually(t, "they were sent", func() bool { s.mu.Lock(); defer s.mu.Unlock(); return s.came > 0 })
	assert.Positive(t, r.units[0].view().Kept)
	s.mu.Lock()
	s.fail = false
	s.mu.Unlock()
	eventually(t, "they come again", func() bool { return len(s.seqs()) > 0 && r.units[0].view().Kept == 0 })
	consecutive(t, s.seqs())
}

// A unit survives its own restart, deciding with what it held; a line torn by a power cut is told, not believed.
func TestRestart(t *testing.T) {
	dir := t.TempDir()
	r := openRack(t, dir)
	key := adopt(t, r)
	s := newServer()
	k := link.Keep(r.units[0].Address, key, nil, s.hooks())
	<-s.online
	im := testImage(5)
	_, err := k.Load(ctx(t), sections(t, im), false, func(int, int) {})
	require.NoError(t, err)
	eventually(t, "acknowledged", func() bool { return r.units[0].view().Kept == 0 })
	k.Close()
	present(t, r, 3)
	require.NoError(t, r.Close())
	f, err := os.OpenFile(r.units[0].logPath(), os.O_APPEND|os.O_WRONLY, 0)
	require.NoError(t, err)
	_, err = f.WriteString(`{"seq":999,"at":`)
	require.NoError(t, err)
	require.NoError(t, f.Close())

	r = openRack(t, dir)
	defer r.Close()
	v := r.units[0].view()
	assert.True(t, v.Keyed)
	assert.Equal(t, image.NameOf(im), v.Hash)
	require.Len(t, v.Doors, 1, "it decides before any server has come")
	present(t, r, 4)
	k = link.Keep(r.units[0].Address, key, nil, s.hooks())
	defer k.Close()
	<-s.online
	eventually(t, "the rest", func() bool { return uint64(len(s.seqs())) == r.units[0].panelSeq() })
	consecutive(t, s.seqs())
	assert.Equal(t, uint64(4), s.event(r.units[0].panelSeq()).Number)
}

// What is wrong with a controller and its readers is told again at each start, what is right is not.
func TestTroublesAtAStart(t *testing.T) {
	r := openRack(t, t.TempDir())
	defer r.Close()
	s, k := online(t, r)
	_, err := k.Load(ctx(t), sections(t, testImage(5)), false, func(int, int) {})
	require.NoError(t, err)
	count := func(kind pass.Kind) (n int) {
		for _, seq := range s.seqs() {
			if s.event(seq).Kind == kind {
				n++
			}
		}
		return n
	}
	c := Client{r.Address()}
	for _, h := range []Hand{
		{Do: "mains"}, {Do: "lid"}, {Do: "lid", On: true}, {Do: "cover", Point: site.PortPoints(1).In},
		{Do: "power"}, {Do: "power", On: true},
	} {
		h.Serial = "T-1"
		_, err := c.Do(h)
		require.NoError(t, err, h.Do)
	}
	<-s.online
	eventually(t, "told again", func() bool { return count(pass.MainsLost) == 2 && count(pass.ReaderOpened) == 2 })
	assert.Equal(t, 1, count(pass.TamperOpened))
	assert.Zero(t, count(pass.ReaderLost))
	assert.Zero(t, count(pass.BatteryLow))
}

func TestReset(t *testing.T) {
	r := openRack(t, t.TempDir())
	defer r.Close()
	first := adopt(t, r)
	v, err := Client{r.Address()}.Do(Hand{Serial: "T-1", Do: "reset"})
	require.NoError(t, err)
	assert.False(t, v.Keyed)
	assert.NotEqual(t, first, adopt(t, r), "a key of its own, every time")
}

func TestHandsRefuse(t *testing.T) {
	r := openRack(t, t.TempDir())
	defer r.Close()
	c := Client{r.Address()}
	for _, h := range []Hand{{Serial: "T-9", Do: "open", Point: contact},
		{Serial: "T-1", Do: "open", Point: point.At(point.Input, 5)}, {Serial: "T-1", Do: "dance", Point: contact}} {
		_, err := c.Do(h)
		assert.Error(t, err)
	}
	_, err := Client{"127.0.0.1:1"}.List()
	assert.ErrorContains(t, err, "does not answer")
}

func TestWatch(t *testing.T) {
	r := openRack(t, t.TempDir())
	defer r.Close()
	ctx, cancel := context.WithCancel(context.Background())
	defer cancel()
	seen := make(chan bool, 1000)
	go Client{r.Address()}.Watch(ctx, func(v []View) { seen <- v[0].Circuit(contact) == point.Open })
	assert.False(t, <-seen)
	_, err := Client{r.Address()}.Do(Hand{Serial: "T-1", Do: "open", Point: contact})
	require.NoError(t, err)
	for !<-seen {
		continue
	}
}
