package question

import (
	"encoding/json"
	"math/rand/v2"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"github.com/shopspring/decimal"

	"ruvo/internal/core/words"
)

type files struct{}

func (files) Name() KindName { return "files" }

// Class implements Kind.
func (files) Class() Class { return ClassList }

// filesSpec takes uploaded files. Types are media types ("image/png") or
// whole groups of them ("image/*"), told by a file's content.
type filesSpec struct {
	Types     []string `json:"types,omitempty"`
	Least     int      `json:"least,omitempty"`      // files; a required question takes at least one
	Most      int      `json:"most,omitempty"`       // files; 0 is 20
	MostMB    int      `json:"most_mb,omitempty"`    // size of each; 0 is 100
	LeastWide int      `json:"least_wide,omitempty"` // pixels
	LeastHigh int      `json:"least_high,omitempty"` // pixels
	Captions  bool     `json:"captions,omitempty"`   // each file can have a caption
	Shape     *Shape   `json:"shape,omitempty"`      // pictures are cropped to it
}

// A Shape is the ratio of a picture's sides.
type Shape struct {
	Wide int `json:"wide"`
	High int `json:"high"`
}

// The limits of files.
const (
	MostFiles  = 200
	MostFileMB = 2000
	// MostPixels bounds the pictures that are decoded.
	MostPixels = 120_000_000
)

var mediaType = regexp.MustCompile(`^[a-z]+/([a-z0-9.+-]+|\*)$`)

func (files) Spec(raw json.RawMessage) (Spec, error) {
	s, err := settings[filesSpec](raw)
	if err != nil {
		return nil, err
	}
	if s.Most == 0 {
		s.Most = 20
	}
	if s.MostMB == 0 {
		s.MostMB = 100
	}
	switch {
	case s.Least < 0 || s.Most < 1 || s.Most > MostFiles || s.Least > s.Most:
		return nil, words.Tell("setting.number_files_must_lie_between", "mostfiles", strconv.Itoa(MostFiles))
	case s.MostMB < 1 || s.MostMB > MostFileMB:
		return nil, words.Tell("setting.size_must_lie_between_1", "mostfilemb", strconv.Itoa(MostFileMB))
	case s.LeastWide < 0 || s.LeastHigh < 0 || s.LeastWide > 50_000 || s.LeastHigh > 50_000:
		return nil, words.Tell("setting.least_width_height_must_lie")
	case s.Shape != nil && (s.Shape.Wide < 1 || s.Shape.High < 1 || s.Shape.Wide > 1000 || s.Shape.High > 1000):
		return nil, words.Tell("setting.shape_must_two_numbers_between")
	case slices.ContainsFunc(s.Types, func(t string) bool { return !mediaType.MatchString(t) }):
		return nil, words.Tell("setting.types_must_media_types_such")
	}
	return s, nil
}

func (filesSpec) Class() Class { return ClassList }

var fileID = regexp.MustCompile(`^[A-Za-z0-9_-]{22}$`)

func (s filesSpec) Decode(raw json.RawMessage) (Value, *Fault) {
	var list Files
	if strict(raw, &list) != nil || len(list) > MostFiles {
		return nil, fault("type_files")
	}
	for i := range list {
		f := &list[i]
		if !fileID.MatchString(f.File) || f.Crop != nil && !f.Crop.valid() {
			return nil, fault("type_files")
		}
		f.Caption, f.Name = strings.TrimSpace(f.Caption), strings.TrimSpace(f.Name)
		if Characters(f.Caption) > 500 || Characters(f.Name) > 255 || strings.ContainsAny(f.Name, "\x00\r\n/\\") {
			return nil, fault("longest", "most", "500")
		}
	}
	return list, nil
}

func (s filesSpec) Check(v Value, env Env) []Fault {
	list := v.(Files)
	var wrong []Fault
	switch {
	case len(list) < s.Least:
		wrong = append(wrong, *fault("files_least", "least", strconv.Itoa(s.Least)))
	case len(list) > s.Most:
		wrong = append(wrong, *fault("files_most", "most", strconv.Itoa(s.Most)))
	}
	for i, f := range list {
		if slices.ContainsFunc(list[:i], func(g Uploaded) bool { return g.File == f.File }) {
			wrong = append(wrong, within(strconv.Itoa(i), faults(fault("twice")))...)
		} else if env.Files != nil {
			wrong = append(wrong, within(strconv.Itoa(i), faults(s.checkFile(f, env)))...)
		}
	}
	return wrong
}

func (s filesSpec) checkFile(u Uploaded, env Env) *Fault {
	f, ok := env.Files(u.File)
	if !ok {
		return fault("file_gone")
	}
	if wrong := s.CheckFile(f, env.Language); wrong != nil {
		return wrong
	}
	if s.Shape != nil && f.Width > 0 && !s.Shape.fits(u.Crop, f) {
		return fault("file_shape", "wide", strconv.Itoa(s.Shape.Wide), "high", strconv.Itoa(s.Shape.High))
	}
	return nil
}

// fits says whether a crop of a picture has the shape, to about two pixels in
// a hundred.
func (s Shape) fits(c *Crop, f File) bool {
	if c == nil {
		return false
	}
	ratio := c.W * float64(f.Width) * float64(s.High) / (c.H * float64(f.Height) * float64(s.Wide))
	return ratio > 0.98 && ratio < 1.02
}

// CheckFile says what is wrong with a file; an unfinished one is checked for
// what is known of it.
func (s filesSpec) CheckFile(f File, l words.Language) *Fault {
	switch {
	case f.Size > int64(s.MostMB)*1_000_000:
		return fault("file_size", "most", strconv.Itoa(s.MostMB))
	case f.Size == 0:
		return fault("file_empty")
	case !f.Whole:
		return fault("file_unfinished")
	case !s.takes(f.Type):
		return fault("file_type", "types", TypeNames(s.Types, l), "type", TypeNames([]string{f.Type}, l))
	case f.Width < s.LeastWide || f.Height < s.LeastHigh:
		return fault("file_pixels", "wide", strconv.Itoa(s.LeastWide), "high", strconv.Itoa(s.LeastHigh),
			"width", strconv.Itoa(f.Width), "height", strconv.Itoa(f.Height))
	}
	return nil
}

// A FileChecker checks a file before it is part of an answer.
type FileChecker interface {
	CheckFile(File, words.Language) *Fault
}

func (s filesSpec) takes(mediaType string) bool {
	return len(s.Types) == 0 || slices.ContainsFunc(s.Types, func(t string) bool {
		group, whole := strings.CutSuffix(t, "*")
		return t == mediaType || whole && strings.HasPrefix(mediaType, group)
	})
}

// TypeNames writes media types as people know them: "JPEG, PNG, PDF".
func TypeNames(types []string, l words.Language) string {
	var names []string
	for _, t := range types {
		group, sub, _ := strings.Cut(t, "/")
		switch {
		case sub == "*":
			names = append(names, l.Say("files."+group, nil))
		case t == "application/octet-stream":
			names = append(names, l.Say("files.unknown", nil))
		default:
			sub = strings.TrimPrefix(strings.TrimSuffix(sub, "+xml"), "x-")
			names = append(names, strings.ToUpper(sub))
		}
	}
	return strings.Join(names, ", ")
}

// Words counts the files and names them with their captions.
func (filesSpec) Words(v Value, env Env) string {
	list := v.(Files)
	lines := make([]string, len(list))
	for i, f := range list {
		lines[i] = f.Name
		if f.Caption != "" {
			lines[i] = env.Language.Say("files.caption", words.Params{"name": f.Name, "caption": f.Caption})
		}
	}
	return strings.Join(lines, "\n")
}

// Files are uploaded files in the customer's order.
type Files []Uploaded

// Uploaded is one file of an answer. Name is the customer's own for it.
type Uploaded struct {
	File    string `json:"file"` // the upload's id
	Name    string `json:"name"`
	Caption string `json:"caption,omitempty"`
	Crop    *Crop  `json:"crop,omitempty"`
}

// A Crop is the part of a picture that is wanted, in shares of its width and
// height. The picture itself is kept whole.
type Crop struct {
	X float64 `json:"x"`
	Y float64 `json:"y"`
	W float64 `json:"w"`
	H float64 `json:"h"`
}

func (c *Crop) valid() bool {
	const slack = 1e-6
	return c.X >= 0 && c.Y >= 0 && c.W > 0 && c.H > 0 && c.X+c.W <= 1+slack && c.Y+c.H <= 1+slack
}

// Answered implements Value.
func (f Files) Answered() bool { return len(f) > 0 }

// Terms implements Value.
func (f Files) Terms() Terms { return Terms{Number: decimal.NewFromInt(int64(len(f)))} }

// A File is what is known of an upload.
type File struct {
	Size   int64  // bytes, as announced
	Whole  bool   // all of it arrived
	Type   string // media type told by the content
	Width  int    // pixels; zero for what is no picture
	Height int
}

// A Filed value holds uploads.
type Filed interface{ Uploads() []Uploaded }

// Uploads gives the files.
func (f Files) Uploads() []Uploaded { return f }

// Samples implements Sampled: so many files.
func (s filesSpec) Samples(around []int) ([]Value, bool) {
	counts, all := numbersFor(max(s.Least, 1), s.Most, around)
	list := make([]Value, len(counts))
	for i, n := range counts {
		list[i] = Files(make([]Uploaded, n))
	}
	return list, all
}

// MakeUp implements Inventive. The files are still to be sent.
func (s filesSpec) MakeUp(r *rand.Rand, _ Env) Value {
	least := max(s.Least, 1)
	list := make(Files, least+r.IntN(min(s.Most-least, 2)+1))
	if s.Captions {
		list[0].Caption = wordsOf(r, 3, 30)
	}
	return list
}

// A Wanting is a Spec that takes files.
type Wanting interface {
	Wants() Want
}

// A Want is what a file must be to be taken.
type Want struct {
	Wide, High int    // pixels that a picture must have at least
	Shape      *Shape // to which a picture is cropped; nil for none
	Takes      func(mediaType string) bool
}

// Wants implements Wanting.
func (s filesSpec) Wants() Want {
	return Want{max(s.LeastWide, 40), max(s.LeastHigh, 30), s.Shape, s.takes}
}

// Within gives the largest part of a picture that has the shape, from its corner.
func (s Shape) Within(wide, high int) *Crop {
	if wide*s.High > high*s.Wide {
		return &Crop{W: float64(high*s.Wide) / float64(s.High*wide), H: 1}
	}
	return &Crop{W: 1, H: float64(wide*s.High) / float64(s.Wide*high)}
}
