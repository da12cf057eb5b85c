package server

import (
	"net/http"
	"path"
	"strings"

	"github.com/gin-gonic/gin"
	"github.com/klauspost/compress/gzhttp"
)

// compressed packs answers of the API; the pages lie there packed from their build. A socket stays as it is.
func compressed(next http.Handler) http.Handler {
	packed := gzhttp.GzipHandler(next)
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if strings.HasPrefix(r.URL.Path, "/api/") && r.URL.Path != "/api/live" {
			packed.ServeHTTP(w, r)
			return
		}
		next.ServeHTTP(w, r)
	})
}

// encodings are the ways in which the build packs files, the tightest first, and how their names end.
var encodings = []struct{ name, ext string }{{"br", ".br"}, {"gzip", ".gz"}}

// pages serves the built files; whatever is not a file is the application itself, which routes on. A part of an
// application that has been replaced since is not there any more; the page loads itself anew then.
func (s *Server) pages(c *gin.Context) {
	if strings.HasPrefix(c.Request.URL.Path, "/api/") ||
		c.Request.Method != http.MethodGet && c.Request.Method != http.MethodHead {
		c.JSON(http.StatusNotFound, gin.H{"title": "There is nothing at this address."})
		return
	}
	name := strings.TrimPrefix(path.Clean(c.Request.URL.Path), "/")
	if strings.HasPrefix(name, "assets/") {
		if !s.there(name) {
			c.JSON(http.StatusNotFound,
				gin.H{"title": "This part belongs to another version of the application; load the page again."})
			return
		}
		c.Header("Cache-Control", "public, max-age=31536000, immutable")
		s.file(c, name)
		return
	}
	c.Header("Cache-Control", "no-cache")
	if name == "" || !s.there(name) {
		name = "index.html"
	}
	s.file(c, name)
}

func (s *Server) there(name string) bool {
	f, err := s.Web.Open(name)
	if err != nil {
		return false
	}
	info, err := f.Stat()
	f.Close()
	return err == nil && !info.IsDir()
}

// file serves a file, packed where the browser takes it and it lies there packed.
func (s *Server) file(c *gin.Context, name string) {
	h := c.Writer.Header()
	h.Add("Vary", "Accept-Encoding")
	for _, e := range encodings {
		if !takes(c.GetHeader("Accept-Encoding"), e.name) || !s.there(name+e.ext) {
			continue
		}
		h.Set("Content-Encoding", e.name)
		h.Set("Content-Type", contentType(name))
		http.ServeFileFS(c.Writer, c.Request, s.Web, name+e.ext)
		return
	}
	http.ServeFileFS(c.Writer, c.Request, s.Web, name)
}

// takes reports whether a browser takes an encoding (RFC 9110, 12.5.3); q=0 means that it does not.
func takes(accepted, name string) bool {
	for part := range strings.SplitSeq(accepted, ",") {
		what, q, _ := strings.Cut(part, ";")
		if strings.TrimSpace(what) == name {
			return strings.Trim(strings.TrimSpace(q), "0.") != "q="
		}
	}
	return false
}

// contentType is that of what is packed; of the file itself net/http knows it.
func contentType(name string) string {
	switch path.Ext(name) {
	case ".js":
		return "text/javascript; charset=utf-8"
	case ".css":
		return "text/css; charset=utf-8"
	case ".svg":
		return "image/svg+xml"
	}
	return "text/html; charset=utf-8"
}
