package web

import (
	"crypto/rand"
	"encoding/base64"
	"io/fs"
	"net/http"
	"os"
	"path"
	"strings"
	"time"

	"github.com/labstack/echo/v5"

	"ruvo/internal/problem"
)

// files serves the built front ends: the desk under /desk, the shop everywhere
// else, and what they load.
func (s *Server) files(e *echo.Echo, files fs.FS) {
	if files == nil {
		return
	}
	page := func(name string) echo.HandlerFunc {
		raw, err := fs.ReadFile(files, name)
		return func(c *echo.Context) error {
			if err != nil {
				return problem.NotFound(speak(c.Request().Context()), "not_found")
			}
			return servePage(c, raw)
		}
	}
	desk, shop := page("desk.html"), page("index.html")
	e.GET("/desk", desk)
	e.GET("/desk/*", desk)
	e.GET("/assets/*", s.assets(files))
	e.GET("/pictures/*", s.picture(files))
	e.GET("/api/*", func(c *echo.Context) error { return problem.NotFound(speak(c.Request().Context()), "not_found") })
	e.GET("/", shop)
	e.GET("/*", shop)
}

// servePage serves a page with a fresh nonce, under which the component
// library may put its styles into the page. No script may be inline.
func servePage(c *echo.Context, raw []byte) error {
	bits := make([]byte, 16)
	rand.Read(bits)
	nonce := base64.RawURLEncoding.EncodeToString(bits)
	h := c.Response().Header()
	h.Set("Content-Security-Policy", "default-src 'none'; script-src 'self'; style-src 'self' 'nonce-"+nonce+"'; img-src 'self' data: blob:; font-src 'self'; media-src 'self'; connect-src 'self'; form-action 'self'; frame-ancestors 'none'; base-uri 'none'")
	h.Set("Cache-Control", "no-cache")
	return c.HTML(http.StatusOK, strings.Replace(string(raw), "__NONCE__", nonce, 1))
}

// picture serves a picture that the seller added, or one that ships.
func (s *Server) picture(files fs.FS) echo.HandlerFunc {
	shipped := s.asset(files, "public, max-age=3600")
	return func(c *echo.Context) error {
		own, ok := s.Desk.Shown.Own(path.Base(c.Request().URL.Path))
		if !ok {
			return shipped(c)
		}
		in, err := os.Open(own)
		if err != nil {
			return problem.NotFound(speak(c.Request().Context()), "not_found")
		}
		defer in.Close()
		c.Response().Header().Set("Cache-Control", forever)
		http.ServeContent(c.Response(), c.Request(), own, time.Time{}, in)
		return nil
	}
}

// forever lets browsers keep what never changes under its name.
const forever = "public, max-age=31536000, immutable"

func (s *Server) asset(files fs.FS, cache string) echo.HandlerFunc {
	return func(c *echo.Context) error {
		name := strings.TrimPrefix(path.Clean(c.Request().URL.Path), "/")
		if info, err := fs.Stat(files, name); err != nil || info.IsDir() {
			return problem.NotFound(speak(c.Request().Context()), "not_found")
		}
		c.Response().Header().Set("Cache-Control", cache)
		return c.FileFS(name, files)
	}
}
