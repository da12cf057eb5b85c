package crash

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"syscall"
	"time"

	"amberkeystone/demo"
	"amberkeystone/rack"
)

// world is the processes, and what is known of what they were told.
type world struct {
	Options
	data         string
	server, rack *exec.Cmd
	http         *http.Client
	hands        rack.Client
	people       []int64
	doors        []door
	serials      map[string]int64 // controllers by serial

	mu     sync.Mutex
	saved  map[int64]*saved
	seen   map[place]string // events on the controllers' disks, as they stand there
	report *Report
}

type door struct {
	ID           int64 `json:"id"`
	Port         int   `json:"port"`
	ControllerID int64 `json:"controllerId"`
}

// place is where an event stands.
type place struct {
	serial, log string
	seq         uint64
}

// versioned is a person as the API gives it.
type versioned struct {
	Rev   int64          `json:"rev"`
	Value map[string]any `json:"value"`
}

func (w *world) url(path string) string { return fmt.Sprintf("http://127.0.0.1:%d%s", w.Port, path) }

func (w *world) spawn(name string, args ...string) (*exec.Cmd, error) {
	out, err := os.OpenFile(filepath.Join(w.Dir, name+".txt"), os.O_CREATE|os.O_APPEND|os.O_WRONLY, 0o600)
	if err != nil {
		return nil, err
	}
	defer out.Close()
	c := exec.Command(w.Bin, args...)
	c.Stdout, c.Stderr = out, out
	c.SysProcAttr = &syscall.SysProcAttr{Pdeathsig: syscall.SIGKILL}
	return c, c.Start()
}

// start starts what does not run, and waits until both answer and every controller is connected.
func (w *world) start(ctx context.Context, more ...string) (err error) {
	base := fmt.Sprint(w.Port + 2)
	if w.rack == nil {
		if w.rack, err = w.spawn("rack", "rack", "--data", w.data, "--port", base); err != nil {
			return err
		}
	}
	if w.server == nil {
		args := append(
			[]string{
				"serve",
				"--data",
				w.data,
				"--listen",
				fmt.Sprintf("127.0.0.1:%d", w.Port),
				"--rack",
				w.hands.Address,
			},
			more...)
		if w.server, err = w.spawn("server", args...); err != nil {
			return err
		}
	}
	return w.until(ctx, "server and rack answer", func() bool {
		_, err := w.hands.List()
		return err == nil && w.get("/api/session", &struct{}{}) == nil
	})
}

func kill(c **exec.Cmd) {
	if *c != nil {
		_ = (*c).Process.Kill()
		_ = (*c).Wait() // it was killed
		*c = nil
	}
}

func (w *world) killServer() {
	kill(&w.server)
	w.report.ServerKills++
}

func (w *world) killRack() {
	kill(&w.rack)
	w.report.RackKills++
}

func (w *world) stop() {
	kill(&w.server)
	kill(&w.rack)
}

func (w *world) until(ctx context.Context, what string, f func() bool) error {
	ctx, cancel := context.WithTimeout(ctx, 60*time.Second)
	defer cancel()
	for !f() {
		select {
		case <-ctx.Done():
			return fmt.Errorf("waited in vain: %s", what)
		case <-time.After(15 * time.Millisecond):
		}
	}
	return nil
}

// refusal is an answer that is not a good one.
type refusal struct {
	status int
	body   string
}

func (r *refusal) Error() string { return fmt.Sprintf("%d: %s", r.status, r.body) }

func (w *world) call(method, path string, in, out any) error {
	var body io.Reader
	if in != nil {
		b, err := json.Marshal(in)
		if err != nil {
			return err
		}
		body = bytes.NewReader(b)
	}
	req, err := http.NewRequest(method, w.url(path), body)
	if err != nil {
		return err
	}
	req.Header.Set("Content-Type", "application/json")
	r, err := w.http.Do(req)
	if err != nil {
		return err
	}
	defer r.Body.Close()
	b, err := io.ReadAll(r.Body)
	switch {
	case err != nil:
		return err
	case r.StatusCode >= 300:
		return &refusal{r.StatusCode, string(b)}
	case out == nil || len(b) == 0:
		return nil
	}
	return json.Unmarshal(b, out)
}

func (w *world) get(path string, out any) error { return w.call("GET", path, nil, out) }

// setUp starts everything with the museum, takes its controllers into service and sends to them.
func (w *world) setUp(ctx context.Context) error {
	jar, err := cookiejar.New(nil)
	if err != nil {
		return err
	}
	w.http = &http.Client{Jar: jar, Timeout: 30 * time.Second}
	w.hands = rack.Client{Address: fmt.Sprintf("127.0.0.1:%d", w.Port+1)}
	museum := filepath.Join(w.Dir, "site.json")
	if err := os.WriteFile(museum, demo.Site, 0o600); err != nil {
		return err
	}
	if err := w.start(ctx, "--import", museum); err != nil {
		return err
	}
	if err := w.call("POST", "/api/first-administrator", map[string]any{"name": "Robin", "password": "low tide at noon"},
		nil); err != nil {
		return err
	}
	if err := w.adoptAll(); err != nil {
		return err
	}
	var people struct{ Items []versioned }
	if err := w.get("/api/people?limit=1000", &people); err != nil {
		return err
	}
	for _, p := range people.Items {
		id := int64(p.Value["id"].(float64))
		w.people = append(w.people, id)
		w.saved[id] = &saved{acked: p}
	}
	var doors struct{ Items []struct{ Value door } }
	if err := w.get("/api/doors?limit=1000", &doors); err != nil {
		return err
	}
	for _, d := range doors.Items {
		w.doors = append(w.doors, d.Value)
	}
	if err := w.online(ctx); err != nil {
		return err
	}
	return w.call("POST", "/api/send", map[string]any{"controllers": []int64{}}, nil)
}

func (w *world) adoptAll() error {
	var list struct {
		Items []struct {
			Value struct {
				ID                 int64
				Name, Serial, Zone string
				SiteID             int64
			}
		}
	}
	if err := w.get("/api/controllers?limit=100", &list); err != nil {
		return err
	}
	w.serials = map[string]int64{}
	for _, c := range list.Items {
		v := c.Value
		how := map[string]any{"name": v.Name, "siteId": v.SiteID, "zone": v.Zone}
		var codes struct{ Code, Shows string }
		if err := w.call("POST", "/api/found/"+v.Serial+"/take-into-service", how, &codes); err != nil {
			return err
		}
		if codes.Code != codes.Shows {
			return fmt.Errorf("%s shows %s, the server %s", v.Serial, codes.Shows, codes.Code)
		}
		how["code"] = codes.Code
		if err := w.call("POST", "/api/found/"+v.Serial+"/confirm", how, nil); err != nil {
			return err
		}
		w.serials[v.Serial] = v.ID
	}
	return nil
}

type unit struct {
	ID         int64
	Online     bool
	Hash, Name string
	Trouble    string
}

func (w *world) online(ctx context.Context) error {
	var units []unit
	err := w.until(ctx, "every controller is connected", func() bool {
		units = nil
		if w.get("/api/units", &units) != nil {
			return false
		}
		for _, u := range units {
			if !u.Online {
				return false
			}
		}
		return len(units) > 0
	})
	if err != nil {
		var trouble []string
		for _, u := range units {
			if !u.Online {
				trouble = append(trouble, u.Name+": "+u.Trouble)
			}
		}
		return fmt.Errorf("%w (%s)", err, strings.Join(trouble, "; "))
	}
	return nil
}
