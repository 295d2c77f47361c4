package api

import (
	"bytes"
	"compress/gzip"
	"io/fs"
	"mime"
	"net/http"
	"path/filepath"
	"strings"
	"sync"

	"github.com/gin-gonic/gin"
	"github.com/klauspost/compress/gzhttp"
)

// squeeze compresses the API's answers for clients that take it; a stream goes as it comes.
func squeeze(next http.Handler) http.Handler {
	wrap, err := gzhttp.NewWrapper(gzhttp.MinSize(1400), gzhttp.CompressionLevel(gzip.BestSpeed),
		gzhttp.ContentTypes([]string{"application/json", "application/problem+json"}))
	if err != nil {
		return next
	}
	return wrap(next)
}

var squeezed sync.Map // path → gzip bytes; built files never change while the server runs

// serveCompressed sends scripts, styles and drawings compressed to browsers that take it.
func serveCompressed(c *gin.Context, web fs.FS, path string, files http.Handler) {
	ext := filepath.Ext(path)
	if !strings.Contains(c.GetHeader("Accept-Encoding"), "gzip") || (ext != ".js" && ext != ".css" && ext != ".svg") {
		c.Status(http.StatusOK)
		files.ServeHTTP(c.Writer, c.Request)
		return
	}
	z, done := squeezed.Load(path)
	if !done {
		raw, err := fs.ReadFile(web, path)
		if err != nil {
			problem(c.Writer, http.StatusNotFound, "There is no such file.")
			return
		}
		var b bytes.Buffer
		w, _ := gzip.NewWriterLevel(&b, gzip.BestCompression)
		_, _ = w.Write(raw)
		_ = w.Close()
		z, _ = squeezed.LoadOrStore(path, b.Bytes())
	}
	c.Header("Content-Encoding", "gzip")
	c.Header("Vary", "Accept-Encoding")
	c.Data(http.StatusOK, mime.TypeByExtension(ext), z.([]byte))
}
