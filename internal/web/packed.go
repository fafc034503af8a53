package web

import (
	"bytes"
	"compress/gzip"
	"io/fs"
	"mime"
	"net/http"
	"path"
	"strings"
	"sync"
	"time"

	"github.com/labstack/echo/v5"
)

// packs keeps scripts and styles as they are sent, by their names, which carry a hash of
// what is in them: packing them takes longer than sending them, so it is done once.
var packs sync.Map

// pack gives a script or style packed, and nothing of what is as small already.
func pack(files fs.FS, name string) ([]byte, error) {
	if ext := path.Ext(name); ext != ".js" && ext != ".mjs" && ext != ".css" {
		return nil, nil
	}
	if kept, ok := packs.Load(name); ok {
		return kept.([]byte), nil
	}
	raw, err := fs.ReadFile(files, name)
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	w, err := gzip.NewWriterLevel(&out, gzip.BestCompression)
	if err != nil {
		return nil, err
	}
	if _, err := w.Write(raw); err != nil {
		return nil, err
	}
	if err := w.Close(); err != nil {
		return nil, err
	}
	packs.Store(name, out.Bytes())
	return out.Bytes(), nil
}

// assets serves what the pages load, packed for browsers that unpack it.
func (s *Server) assets(files fs.FS) echo.HandlerFunc {
	plain := s.asset(files, forever)
	return func(c *echo.Context) error {
		name := strings.TrimPrefix(path.Clean(c.Request().URL.Path), "/")
		if _, err := fs.Stat(files, name); err != nil || !strings.Contains(c.Request().Header.Get("Accept-Encoding"), "gzip") {
			return plain(c)
		}
		packed, err := pack(files, name)
		if err != nil {
			return err
		}
		if packed == nil {
			return plain(c)
		}
		h := c.Response().Header()
		h.Set("Cache-Control", forever)
		h.Set("Content-Encoding", "gzip")
		h.Set("Content-Type", mime.TypeByExtension(path.Ext(name)))
		h.Set("Vary", "Accept-Encoding")
		http.ServeContent(c.Response(), c.Request(), name, time.Time{}, bytes.NewReader(packed))
		return nil
	}
}
