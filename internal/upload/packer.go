package upload

import (
	"archive/zip"
	"fmt"
	"io"
	"path/filepath"
	"strings"
	"time"
)

// A Packer writes a zip in which no two files have the same name.
type Packer struct {
	*zip.Writer
	taken map[string]bool
}

// NewPacker begins one that is written to w.
func NewPacker(w io.Writer) *Packer { return &Packer{zip.NewWriter(w), map[string]bool{}} }

// Put adds a file as it is, under another name where its own is taken.
func (p *Packer) Put(name string, at time.Time, from io.Reader) error {
	ext := filepath.Ext(name)
	base := strings.TrimSuffix(name, ext)
	for n := 2; p.taken[strings.ToLower(name)]; n++ {
		name = fmt.Sprintf("%s %d%s", base, n, ext)
	}
	p.taken[strings.ToLower(name)] = true
	// Pictures and the like are packed already.
	f, err := p.CreateHeader(&zip.FileHeader{Name: name, Method: zip.Store, Modified: at})
	if err == nil {
		_, err = io.Copy(f, from)
	}
	return err
}
