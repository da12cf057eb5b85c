package main

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"os"
	"os/signal"
	"path/filepath"
	"syscall"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/gin-gonic/gin"
	"github.com/spf13/cobra"
	"golang.org/x/net/netutil"

	"amberkeystone/core/site"
	"amberkeystone/demo"
	"amberkeystone/formats/sitefile"
	"amberkeystone/internal/largesite"
	"amberkeystone/rack"
	"amberkeystone/server"
	"amberkeystone/store"
	"amberkeystone/web"
)

// rackBase lies below the ports that Linux gives to programs that ask for any (32768 on).
const rackBase = 27801

// openStore opens the database of a folder. What is made there is for its owner alone, also in a folder that others can
// read.
func openStore(dir string) (*store.Store, error) {
	syscall.Umask(0o077)
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, err
	}
	path := filepath.Join(dir, "keystone.db")
	if store.Empty(path) {
		fmt.Fprintf(
			os.Stderr,
			"%s is empty, so this begins as if new. If a configuration should be in it, stop here and bring back a copy from %s.\n",
			path,
			filepath.Join(dir, "copies"),
		)
	}
	return store.Open(path)
}

func interrupted() (context.Context, context.CancelFunc) {
	return signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
}

// mostConnections is how many are held at a time; more wait.
const mostConnections = 2000

// serveHTTP answers until the context ends.
func serveHTTP(ctx context.Context, s *server.Server, l net.Listener) error {
	h, err := s.Handler()
	if err != nil {
		return err
	}
	// A live screen's socket is taken out of these (net/http clears the deadlines when it hands a connection over).
	srv := &http.Server{
		Handler:           h,
		ReadHeaderTimeout: 10 * time.Second,
		ReadTimeout:       30 * time.Second,
		WriteTimeout:      2 * time.Minute,
		IdleTimeout:       2 * time.Minute,
		MaxHeaderBytes:    64 << 10,
	}
	l = netutil.LimitListener(l, mostConnections)
	done := make(chan error, 1)
	go func() { done <- srv.Serve(l) }()
	select {
	case err := <-done:
		return err
	case <-ctx.Done():
	}
	s.Close()
	bye, cancel := context.WithTimeout(context.Background(), 3*time.Second)
	defer cancel()
	if err := srv.Shutdown(bye); err != nil && !errors.Is(err, context.DeadlineExceeded) {
		return err
	}
	return nil
}

// loopback reports whether only this machine can reach an address.
func loopback(l net.Listener) bool {
	a, ok := l.Addr().(*net.TCPAddr)
	return ok && a.IP.IsLoopback()
}

func serveCommand() *cobra.Command {
	var listen, dir, standIns, importFile string
	var proxies []string
	c := &cobra.Command{
		Use:   "serve",
		Short: "Start the server; the first start asks for the first administrator",
		Args:  cobra.NoArgs,
		RunE: func(*cobra.Command, []string) error {
			ctx, cancel := interrupted()
			defer cancel()
			st, err := openStore(dir)
			if err != nil {
				return err
			}
			defer st.Close()
			if err := st.EnsureBasics(ctx); err != nil {
				return err
			}
			if importFile != "" {
				if err := importInto(ctx, st, importFile); err != nil {
					return err
				}
			}
			l, err := net.Listen("tcp", listen)
			if err != nil {
				return err
			}
			o := server.Options{
				Store:          st,
				Rack:           standIns,
				Web:            web.Pages(),
				TrustedProxies: proxies,
				SecureCookies:  !loopback(l) || len(proxies) > 0,
			}
			if o.FirstCode, err = firstCode(ctx, st, o.SecureCookies); err != nil {
				return err
			}
			s, err := server.New(ctx, o)
			if err != nil {
				return err
			}
			fmt.Printf("Amber Keystone answers at http://%s\n", l.Addr())
			if o.SecureCookies {
				fmt.Println("Put it behind HTTPS: the session cookie is sent over HTTPS only.")
			}
			if o.FirstCode != "" {
				fmt.Printf("Nobody can sign in yet. The first administrator types this code, once: %s\n", o.FirstCode)
			}
			return serveHTTP(ctx, s, l)
		},
	}
	c.Flags().StringVar(&listen, "listen", "127.0.0.1:8470", "address to answer at")
	c.Flags().StringVar(&dir, "data", "data", "folder of the database")
	c.Flags().StringVar(
		&standIns,
		"rack",
		fmt.Sprintf("127.0.0.1:%d", rackBase-1),
		"address of the stand-in rack; empty for none",
	)
	c.Flags().StringSliceVar(
		&proxies,
		"trusted-proxy",
		nil,
		"address or network of a TLS proxy before this server, such as 127.0.0.1 or 10.0.0.0/8; its word on where a request comes from is taken, and the cookie is sent over HTTPS only",
	)
	c.Flags().StringVar(&importFile, "import", "", "load a site file into the empty database first")
	return c
}

// firstCode makes the code that the first administrator types, where others than this machine's people could come
// first.
func firstCode(ctx context.Context, st *store.Store, reachable bool) (string, error) {
	n, err := st.Users(ctx)
	if err != nil || n > 0 || !reachable {
		return "", err
	}
	return server.NewFirstCode(), nil
}

func importInto(ctx context.Context, st *store.Store, path string) error {
	key, err := st.Secret(ctx, "pin key")
	if err != nil {
		return err
	}
	c, notices, err := readSite(path, key)
	if err != nil {
		return err
	}
	for _, n := range notices {
		fmt.Fprintf(os.Stderr, "%s: note: %s\n", path, n)
	}
	return st.Import(ctx, "import of "+filepath.Base(path), c)
}

// readSite reads a site file, and what stands in it and counts for nothing.
func readSite(path string, pinKey []byte) (*site.Config, []string, error) {
	b, err := os.ReadFile(path)
	if err != nil {
		return nil, nil, err
	}
	c, notices, err := sitefile.ParseNoting(b, pinKey)
	if err != nil {
		return nil, nil, fmt.Errorf("%s:\n%w", path, err)
	}
	return c, notices, nil
}

func rackCommand() *cobra.Command {
	var dir string
	var base int
	c := &cobra.Command{
		Use:   "rack",
		Short: "Start the stand-in controllers alone",
		Args:  cobra.NoArgs,
		RunE: func(*cobra.Command, []string) error {
			ctx, cancel := interrupted()
			defer cancel()
			syscall.Umask(0o077)
			r, err := openRack(filepath.Join(dir, "rack"), base)
			if err != nil {
				return err
			}
			fmt.Printf("The rack of stand-in controllers answers at %s\n", r.Address())
			<-ctx.Done()
			return r.Close()
		},
	}
	c.Flags().StringVar(&dir, "data", "data", "folder of the stand-ins' files")
	c.Flags().IntVar(
		&base,
		"port",
		rackBase,
		"port of the first stand-in; the list answers one below; 0 lets the machine choose",
	)
	return c
}

func openRack(dir string, base int) (*rack.Rack, error) {
	list := 0
	if base > 0 {
		list = base - 1
	}
	return rack.Open(dir, fmt.Sprintf("127.0.0.1:%d", list), demo.Rack(base))
}

func demoCommand() *cobra.Command {
	var listen, dir string
	var base int
	var fresh, large bool
	c := &cobra.Command{
		Use:   "demo",
		Short: "Start the Merrow Point Museum with its stand-in controllers, or a large place without any",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			ctx, cancel := interrupted()
			defer cancel()
			l, err := net.Listen("tcp", listen)
			if err != nil {
				return err
			}
			if !loopback(l) {
				return errors.New("the demo shows its sign-in to everybody, so it answers on a loopback address only")
			}
			if large && !c.Flags().Changed("data") {
				dir = filepath.Join("data", "large")
			}
			if fresh {
				if err := errors.Join(os.RemoveAll(filepath.Join(dir, "rack")), removeDatabase(dir)); err != nil {
					return err
				}
			}
			if large {
				return runLarge(ctx, l, dir)
			}
			return runDemo(ctx, l, dir, base)
		},
	}
	c.Flags().StringVar(&listen, "listen", "127.0.0.1:8470", "address to answer at")
	c.Flags().StringVar(&dir, "data", filepath.Join("data", "demo"), "folder of the demo")
	c.Flags().IntVar(&base, "rack-port", rackBase, "port of the first stand-in; 0 lets the machine choose")
	c.Flags().BoolVar(&fresh, "fresh", false, "forget what an earlier demo left")
	c.Flags().BoolVar(&large, "large", false,
		"a place of 2,000 doors and 20,000 people, to see how it goes with many; in data/large")
	return c
}

// runLarge starts the large place. Its controllers are in the configuration and answer nowhere.
func runLarge(ctx context.Context, l net.Listener, dir string) error {
	st, err := openStore(dir)
	if err != nil {
		return err
	}
	defer st.Close()
	if err := st.EnsureBasics(ctx); err != nil {
		return err
	}
	have, err := st.Load(ctx)
	if err != nil {
		return err
	}
	if len(have.Sites) == 0 {
		fmt.Println("Making the large place; it takes some seconds, once.")
		if err := st.Import(ctx, "demo", largesite.Demo()); err != nil {
			return err
		}
	}
	if err := demoUser(ctx, st); err != nil {
		return err
	}
	s, err := server.New(ctx, server.Options{Store: st, Web: web.Pages(), DemoSignIn: &demo.SignIn})
	if err != nil {
		return err
	}
	sayDemo(l)
	return serveHTTP(ctx, s, l)
}

// demoUser makes the sign-in of the demo, unless there is one.
func demoUser(ctx context.Context, st *store.Store) error {
	hash, err := argon2id.CreateHash(demo.SignIn.Password, argon2id.DefaultParams)
	if err != nil {
		return err
	}
	_, err = st.AddFirstUser(ctx, demo.SignIn.Name, hash)
	return err
}

func sayDemo(l net.Listener) {
	fmt.Printf("Amber Keystone answers at http://%s\nSign in as %q with %q.\n", l.Addr(), demo.SignIn.Name,
		demo.SignIn.Password)
}

func runDemo(ctx context.Context, l net.Listener, dir string, base int) error {
	syscall.Umask(0o077)
	r, err := openRack(filepath.Join(dir, "rack"), base)
	if err != nil {
		return err
	}
	defer r.Close()
	st, err := openStore(dir)
	if err != nil {
		return err
	}
	defer st.Close()
	first, err := st.Users(ctx)
	if err != nil {
		return err
	}
	if err := demo.Load(ctx, st, rack.Client{Address: r.Address()}, time.Now()); err != nil {
		return err
	}
	if err := demoUser(ctx, st); err != nil {
		return err
	}
	s, err := server.New(ctx, server.Options{Store: st, Rack: r.Address(), Web: web.Pages(), DemoSignIn: &demo.SignIn})
	if err != nil {
		return err
	}
	if first == 0 {
		go func() {
			if err := s.SendAll(ctx, "demo"); err != nil {
				slog.Error("the demo was not sent to its stand-ins", "err", err)
				return
			}
			if err := demo.Unsent(ctx, st); err != nil {
				slog.Error("the demo's unsent change was not made", "err", err)
			}
		}()
	}
	sayDemo(l)
	return serveHTTP(ctx, s, l)
}

func removeDatabase(dir string) error {
	for _, end := range []string{"", "-wal", "-shm"} {
		if err := os.Remove(filepath.Join(dir, "keystone.db"+end)); err != nil && !errors.Is(err, os.ErrNotExist) {
			return err
		}
	}
	return nil
}

func openapiCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "openapi",
		Short: "Print the API as OpenAPI 3.1",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			gin.SetMode(gin.ReleaseMode)
			enc := json.NewEncoder(c.OutOrStdout())
			enc.SetIndent("", " ")
			return enc.Encode((&server.Server{}).API(gin.New()).OpenAPI())
		},
	}
}
