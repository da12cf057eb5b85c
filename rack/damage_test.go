package rack

import (
	"bytes"
	"encoding/json"
	"net"
	"os"
	"testing"

	"amberkeystone/core/pass"
	"amberkeystone/core/point"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"amberkeystone/core/image"
	"amberkeystone/link"
)

// serving is a rack whose unit is in service and holds an image.
func serving(t *testing.T) (dir string, r *Rack, u *unit, key link.Key) {
	dir = t.TempDir()
	r = openRack(t, dir)
	u = r.units[0]
	key = adopt(t, r)
	u.mu.Lock()
	defer u.mu.Unlock()
	require.NoError(t, u.hold(testImage(5)))
	return dir, r, u, key
}

func kinds(u *unit) (out []string) {
	u.mu.Lock()
	defer u.mu.Unlock()
	for _, e := range u.pending {
		var x pass.Fact
		if json.Unmarshal(e.event, &x) == nil {
			out = append(out, x.Kind.String())
		}
	}
	return out
}

// The power goes between any two writes of an acknowledgement: no number that the server has is used again.
func TestNoNumberIsUsedTwice(t *testing.T) {
	dir, r, u, _ := serving(t)
	require.NoError(t, u.hand(Hand{Do: "open", Point: contact}))
	u.mu.Lock()
	last, log := u.pending[len(u.pending)-1].seq, u.kept.Log
	require.NoError(t, os.Mkdir(u.statePath()+".new", 0o700)) // the state cannot be written: the power goes before
	assert.Error(t, u.acked(link.Ack{Log: log, Seq: last}))
	u.mu.Unlock()
	require.NoError(t, os.Remove(u.statePath()+".new"))
	v, err := openUnit(dir, Spec{Serial: "T-1", Ports: 2}, nil)
	require.NoError(t, err)
	v.mu.Lock()
	assert.Equal(t, log, v.kept.Log)
	assert.Greater(t, v.pending[len(v.pending)-1].seq, last)
	v.mu.Unlock()
	require.NoError(t, v.close())
	require.NoError(t, r.Close())
}

// An acknowledgement of what was never told is not believed.
func TestAcknowledgedBeforeItWasTold(t *testing.T) {
	_, r, u, _ := serving(t)
	defer r.Close()
	u.mu.Lock()
	require.NoError(t, u.acked(link.Ack{Log: u.kept.Log, Seq: 1 << 60}))
	u.mu.Unlock()
	require.NoError(t, u.hand(Hand{Do: "open", Point: contact}))
	assert.Equal(t, 1, u.view().Kept, "the next event is told")
}

// Erasing begins a log of another name, so that the numbers of the old one never come again under its name.
func TestErasedLogHasAnotherName(t *testing.T) {
	_, r, u, _ := serving(t)
	defer r.Close()
	was := u.kept.Log
	require.NoError(t, u.hand(Hand{Do: "reset"}))
	assert.NotEqual(t, was, u.kept.Log)
	_, err := os.Stat(u.path("-" + was + ".log"))
	assert.ErrorIs(t, err, os.ErrNotExist)
}

// Whatever happens to a byte of a log, the lines that are whole are told, the others are counted, and none is believed
// that is not what was written.
func TestFlippedBytesInALog(t *testing.T) {
	dir, r, u, _ := serving(t)
	for range 4 {
		require.NoError(t, u.hand(Hand{Do: "open", Point: contact}))
		require.NoError(t, u.hand(Hand{Do: "close", Point: contact}))
	}
	path := u.logPath()
	require.NoError(t, r.Close())
	whole, err := os.ReadFile(path)
	require.NoError(t, err)
	written := map[string]bool{}
	for l := range bytes.Lines(whole) {
		written[string(l)] = true
	}
	state, err := os.ReadFile(u.statePath())
	require.NoError(t, err)
	rapid.Check(t, func(t *rapid.T) {
		b := bytes.Clone(whole)
		for range rapid.IntRange(1, 3).Draw(t, "flips") {
			b[rapid.IntRange(0, len(b)-1).Draw(t, "at")] ^= byte(1 << rapid.IntRange(0, 7).Draw(t, "bit"))
		}
		require.NoError(t, os.WriteFile(path, b, 0o600))
		require.NoError(t, os.WriteFile(u.statePath(), state, 0o600))
		v, err := openUnit(dir, Spec{Serial: "T-1", Ports: 2}, nil)
		require.NoError(t, err)
		defer v.close()
		require.Empty(t, v.fault)
		v.mu.Lock()
		defer v.mu.Unlock()
		damaged, seq := 0, uint64(0)
		for _, e := range v.pending {
			require.Greater(t, e.seq, seq, "in order")
			seq = e.seq
			var x pass.Fact
			require.NoError(t, json.Unmarshal(e.event, &x))
			if x.Kind == pass.LogDamaged {
				damaged++
			}
			if written[string(line(e.held, e.event))] {
				continue
			}
			require.Contains(t, []pass.Kind{pass.Started, pass.ModeNow, pass.LogDamaged}, x.Kind,
				"only what came after the restart is new")
		}
		if !bytes.Equal(b, whole) {
			require.Equal(t, 1, damaged, "said once")
		}
	})
}

// A state that cannot be believed stops that unit alone: it says so, and a reset brings it back. The others go on.
func TestOneUnitFails(t *testing.T) {
	dir := t.TempDir()
	specs := []Spec{{Serial: "T-1", Ports: 2, Address: "127.0.0.1:0"}, {Serial: "T-2", Ports: 2, Address: "127.0.0.1:0"}}
	r, err := Open(dir, "127.0.0.1:0", specs)
	require.NoError(t, err)
	require.NoError(t, r.Close())
	b, err := os.ReadFile(r.units[0].statePath())
	require.NoError(t, err)
	b[len(b)/2] ^= 4
	require.NoError(t, os.WriteFile(r.units[0].statePath(), b, 0o600))
	r, err = Open(dir, "127.0.0.1:0", specs)
	require.NoError(t, err)
	defer r.Close()
	hands := Client{r.Address()}
	views, err := hands.List()
	require.NoError(t, err)
	assert.Contains(t, views[0].Fault, "its state is damaged")
	assert.Empty(t, views[1].Fault)
	_, err = hands.Do(Hand{Serial: "T-1", Do: "open", Point: contact})
	assert.ErrorContains(t, err, "has stopped")
	_, err = hands.Do(Hand{Serial: "T-2", Do: "open", Point: contact})
	assert.NoError(t, err)
	c, err := net.Dial("tcp", r.units[0].Address)
	require.NoError(t, err)
	defer c.Close()
	_, err = link.Adopt(c, link.NewIdentity())
	assert.Error(t, err)
	v, err := hands.Do(Hand{Serial: "T-1", Do: "reset"})
	require.NoError(t, err)
	assert.Empty(t, v.Fault)
	adopt(t, r)
}

// Whoever holds the key and speaks nonsense stops nothing.
func TestRogueServer(t *testing.T) {
	_, r, u, key := serving(t)
	defer r.Close()
	s := newServer()
	k := link.Keep(u.Address, key, nil, s.hooks())
	defer k.Close()
	<-s.online
	heads := func(size ...int) (list []image.Head) {
		for i, n := range size {
			list = append(list, image.Head{Name: []string{"hardware", "hours"}[i%2], Size: n})
		}
		return list
	}
	begin := func(list []image.Head) link.LoadBegin { return link.LoadBegin{Root: image.Root(list), Sections: list} }
	for _, q := range []struct {
		op string
		in any
	}{
		{link.OpLoadBegin, begin(heads(-1))}, {link.OpLoadBegin, begin(heads(1 << 40))}, {link.OpLoadBegin, begin(heads(40<<20, 40<<20))},
		{link.OpLoadBegin, begin(nil)}, {link.OpLoadBegin, begin(heads(make([]int, 300)...))}, {link.OpLoadBegin, begin(heads(1, 1, 1))},
		{link.OpLoadBegin, link.LoadBegin{Root: "another", Sections: heads(5)}},
		{link.OpLoadPart, link.LoadPart{Section: "hardware", Data: make([]byte, 100)}},
		{link.OpLoadBegin, "nonsense"}, {link.OpSetClock, []int{1}}, {link.OpLoadEnd, nil},
	} {
		assert.Error(t, k.Call(ctx(t), q.op, q.in, nil), "%s %v", q.op, q.in)
	}
	require.NoError(t, k.Call(ctx(t), link.OpLoadBegin, begin(heads(10)), nil))
	assert.ErrorContains(t, k.Call(ctx(t), link.OpLoadPart, link.LoadPart{Section: "hardware", Data: make([]byte, 11)},
		nil), "more than")
	assert.ErrorContains(t, k.Call(ctx(t), link.OpLoadPart, link.LoadPart{Section: "rules", Data: make([]byte, 1)}, nil),
		"not on its way")
	assert.ErrorContains(t, k.Call(ctx(t), link.OpLoadEnd, nil, nil), "damaged")
	var st link.Status
	require.NoError(t, k.Call(ctx(t), link.OpStatus, nil, &st))
	assert.NotEmpty(t, st.Hash)
}

// A door whose lock is released leaves the image: the lock falls shut.
func TestReleasedPortLocks(t *testing.T) {
	_, r, u, _ := serving(t)
	defer r.Close()
	require.NoError(t, u.hand(Hand{Do: "close", Point: point.At(point.Input, 2)}))
	require.True(t, released(u))
	u.mu.Lock()
	require.NoError(t, u.hold([]byte(`{"version":2,"settings":{"pinLength":4}}`)))
	u.mu.Unlock()
	assert.False(t, released(u))
}

// Files of earlier versions are read: the image inside the state, a log without checksums.
func TestFilesOfEarlierVersions(t *testing.T) {
	dir := t.TempDir()
	im := []byte(
		`{"version":2,"settings":{"pinLength":4},"zone":{"name":"UTC","offsets":null},"doors":[{"id":1,"port":1,"controllerId":9,"planId":20,"contact":"nc","relock":"opening","unlock":5}],"plans":[{"id":20,"week":[[],[],[],[],[],[],[]]}]}`,
	)
	key := link.Key{5}
	old, err := json.Marshal(map[string]any{"key": key, "image": im, "log": "0123456789abcdef", "acked": 3, "seq": 3})
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(dir+"/T-1.json", old, 0o600))
	require.NoError(t,
		os.WriteFile(dir+"/T-1.log",
			[]byte(`{"seq":3,"at":5,"kind":"started"}`+"\n"+`{"seq":4,"at":6,"kind":"network-lost"}`+"\n"), 0o600))
	r := openRack(t, dir)
	defer r.Close()
	v := r.units[0].view()
	assert.Empty(t, v.Fault)
	assert.True(t, v.Keyed)
	assert.Equal(t, image.Hash(im), v.Hash)
	assert.Equal(t, []string{"network-lost", "started", "mode"}, kinds(r.units[0]))
	assert.NotContains(t, kinds(r.units[0]), "log-damaged")
	_, _, err = link.Greet(dial(t, r), key, nil)
	assert.NoError(t, err)
	u := r.units[0]
	u.mu.Lock()
	defer u.mu.Unlock()
	assert.Empty(t, u.sections(), "everything is sent the next time")
	require.NoError(t, u.hold(testImage(5)))
	assert.NotEmpty(t, u.sections())
}

// What rules remember is on disk with the step that made them remember it.
func TestMemorySurvives(t *testing.T) {
	dir, r, u, _ := serving(t)
	before := u.kept.Memory
	require.NoError(t, r.Close())
	r = openRack(t, dir)
	defer r.Close()
	assert.Equal(t, before, r.units[0].kept.Memory)
	assert.Empty(t, r.units[0].view().Fault)
}

func FuzzLogLine(f *testing.F) {
	f.Add([]byte(`{"seq":1}`))
	f.Add(line("abc", []byte(`{"seq":7,"kind":"started"}`)))
	f.Add([]byte("00000000 - {}"))
	f.Fuzz(func(t *testing.T, b []byte) {
		e, ok := readLine(bytes.TrimSuffix(b, []byte("\n")))
		if !ok {
			return
		}
		again, ok := readLine(bytes.TrimSuffix(line(e.held, e.event), []byte("\n")))
		if !ok || again.seq != e.seq || again.held != e.held || !bytes.Equal(again.event, e.event) {
			t.Fatalf("%q reads as %v, written again as %v", b, e, again)
		}
	})
}

// contact is the terminal of the first door's contact.
var contact = point.At(point.Input, 1)

func released(u *unit) bool {
	v := u.view()
	return v.On(point.At(point.Output, 1))
}
