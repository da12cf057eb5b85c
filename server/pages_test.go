package server

import (
	"net/http"
	"net/http/httptest"
	"testing"
	"testing/fstest"

	"github.com/gin-gonic/gin"
	"github.com/stretchr/testify/assert"
)

func TestPagesArePacked(t *testing.T) {
	s := &Server{Options: Options{Web: fstest.MapFS{
		"index.html": {Data: []byte("<p>page</p>")}, "assets/a.js": {Data: []byte("let a")},
		"assets/a.js.br": {Data: []byte("BR")}, "assets/a.js.gz": {Data: []byte("GZ")}, "assets/font.woff2": {Data: []byte("F")},
	}}}
	g := gin.New()
	g.NoRoute(s.pages)
	for _, x := range []struct {
		path, accepts, body, encoding string
		status                        int
	}{
		{"/assets/a.js", "gzip, br", "BR", "br", 200},
		{"/assets/a.js", "gzip", "GZ", "gzip", 200},
		{"/assets/a.js", "br;q=0, gzip;q=0.5", "GZ", "gzip", 200},
		{"/assets/a.js", "", "let a", "", 200},
		{"/assets/font.woff2", "br", "F", "", 200},
		{"/people/12", "br", "<p>page</p>", "", 200},
		{"/assets", "", "<p>page</p>", "", 200},
		{"/assets/old.js", "br", "", "", 404}, // and not the page: a script that is none would be a riddle
	} {
		r := httptest.NewRequest(http.MethodGet, x.path, nil)
		r.Header.Set("Accept-Encoding", x.accepts)
		w := httptest.NewRecorder()
		g.ServeHTTP(w, r)
		assert.Equal(t, x.status, w.Code, x.path)
		assert.Equal(t, x.encoding, w.Header().Get("Content-Encoding"), x.path)
		if x.body != "" {
			assert.Equal(t, x.body, w.Body.String(), x.path)
		}
	}
}
