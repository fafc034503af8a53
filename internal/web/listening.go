package web

import (
	"net/http"
	"time"
)

// Times bound how long a connection may take for its parts.
type Times struct {
	Head  time.Duration // until the head of a request is here
	Body  time.Duration // until the whole request is here
	Reply time.Duration // until the reply is read
	Idle  time.Duration // between two requests
}

// Patience is for slow lines, and not for those who only hold a connection.
// Uploads come in pieces that are made smaller on a slow line; the reply may be a
// file of two gigabytes.
var Patience = Times{Head: 10 * time.Second, Body: time.Minute, Reply: 10 * time.Minute, Idle: 2 * time.Minute}

// Listening makes the server that a handler answers behind.
func Listening(h http.Handler, t Times) *http.Server {
	return &http.Server{Handler: h, ReadHeaderTimeout: t.Head, ReadTimeout: t.Body, WriteTimeout: t.Reply, IdleTimeout: t.Idle, MaxHeaderBytes: 64 << 10}
}
