package e2e

import (
	"encoding/base64"
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"github.com/chromedp/chromedp"
)

// drops puts finished files into the field that takes them.
func (p *person) drops(files ...string) {
	p.t.Helper()
	p.dropsInto("Finished files", files...)
}

// dropsInto puts files into the field of that name.
func (p *person) dropsInto(name string, files ...string) {
	p.t.Helper()
	field := fmt.Sprintf("input[type=file][aria-label=%q]", name)
	p.until("files can be dropped", fmt.Sprintf("document.querySelector(%q) !== null", field))
	must(p.t, chromedp.Do(p.ctx, chromedp.SetUploadFiles(field, files)))
}

// named gives pictures of these names.
func named(t *testing.T, names ...string) (files []string) {
	t.Helper()
	for _, n := range names {
		files = append(files, picture(t, n, 320, 240))
	}
	return files
}

// forty gives forty files of eight orders, named as the studio names them.
func forty(t *testing.T, orders ...string) (files []string) {
	t.Helper()
	folder := t.TempDir()
	data, err := os.ReadFile(picture(t, "x.png", 64, 48))
	must(t, err)
	for _, n := range orders {
		for i := range 40 / len(orders) {
			path := filepath.Join(folder, fmt.Sprintf("%s-%d.png", n, i+1))
			must(t, os.WriteFile(path, data, 0o600))
			files = append(files, path)
		}
	}
	return files
}

// Forty finished files of eight orders are handed over at once; each finds its order,
// one that finds none is put there by hand, and one order is cancelled meanwhile.
func TestFortyFilesAtOnce(t *testing.T) {
	h := open(t)
	desk := h.visitor(1280, 800)
	desk.signIn()
	desk.goTo("/desk/work?by=step")
	desk.press("link", "Letter the title")
	desk.press("link", "Hand over", ".sheet-tools")
	desk.sees("A file finds its order by the order’s number in its name")
	desk.drops(append(forty(t, "1017", "1018", "1020", "1021", "1023", "1025", "1028", "1032"), picture(t, "nameless.png", 64, 48))...)
	desk.sees("Hand over 40 files", "aside")
	desk.sees("to 8 orders", "aside")
	desk.sees("1 file without an order")
	desk.sees("by its number", ".hand-group")
	desk.types("Add an order", "1021")
	desk.press("button", "Add", ".scan")
	desk.press("button", "Take the 1 file without an order", `[data-order="1021"]`)
	desk.sees("Hand over 41 files", "aside")
	desk.types("Message", "Here you are, {{customer}}.", "aside")
	desk.press("button", "Hand over 41 files", "aside")
	desk.sees("Handed over: 8 orders", "aside")
	desk.goTo("/desk/orders?work=handed")
	desk.sees("handed over", ".order-list")
}

// A customer looks at what was made on a phone, marks what should be different, is
// shown the next round and accepts it; the seller sees all of it beside the work.
func TestARoundOfChanges(t *testing.T) {
	h := open(t)
	link := h.linkOf("Leandro Fioravanti")
	phone := h.visitor(390, 844)
	phone.goTo(link)
	phone.sees("Your order is ready", ".handed")
	phone.sees("here is the sky over Tromsdal, Norway", ".handed")
	phone.sees("1 round of changes is included. If we hear nothing until", ".handed")
	phone.until("the picture is shown", `document.querySelector(".handed img")?.naturalWidth > 0`)
	phone.press("button", "Ask for changes", ".handed")
	phone.press("button", "Ask for these changes") // nothing said yet
	phone.sees("Say what should be different, or mark it.", ".ask-changes")
	phone.press("button", "Look at 1016-chart.png", ".ask-changes")
	phone.until("it is shown large", `document.querySelector(".look img")?.naturalWidth > 0`)
	at := phone.middle(".look .marked-picture")
	must(t, chromedp.Do(phone.ctx, chromedp.MouseClickXY(at[0], at[1])))
	phone.types("What should be different at mark 1", "A little higher", ".look")
	phone.press("button", "Done", ".look")
	phone.reload() // what was said is still there
	phone.press("button", "Ask for changes", ".handed")
	phone.types("In words", "Almost. One thing:", ".ask-changes")
	phone.pressTimes(2, "button", "Ask for these changes")
	phone.sees("changes are being made", ".handed")
	phone.sees("A little higher", ".handed")

	desk := h.visitor(1280, 800)
	desk.signIn()
	desk.goTo("/desk/orders?text=1016")
	desk.sees("changes asked for", ".order-list")
	desk.sees("Almost. One thing:", ".docket")
	desk.press("button", "1016-chart.png", ".asked")
	desk.until("the mark is shown", `document.querySelector('.look [data-mark="1"]') !== null && document.querySelector(".look img")?.naturalWidth > 0`)
	desk.press("button", "Done", ".look")
	desk.press("button", "Hand over", ".docket")
	desk.drops(picture(t, "1016-chart-2.png", 640, 480))
	desk.sees("1016-chart-2.png", ".give-form")
	desk.press("button", "Hand over", ".give-form")
	desk.sees("waits for an answer", ".given")

	phone.reload()
	phone.sees("A further round of changes costs €9.00", ".handed")
	phone.press("button", "Ask for changes", ".handed")
	phone.types("In words", "Smaller again", ".ask-changes")
	phone.press("tick", "This round of changes costs €9.00", ".ask-changes")
	phone.press("button", "Back", ".ask-changes")
	phone.press("button", "I like it", ".handed")
	phone.misses("I like it", ".handed") // "counts as accepted" stood there before
	phone.sees("accepted", ".handed")
	phone.reload()
	phone.sees("accepted", ".handed")
	phone.misses("I like it", ".handed")

	desk.reload()
	desk.sees("accepted by Leandro Fioravanti", ".given")
	desk.sees("The customer saw it", ".given")
	desk.sees("Handed over", ".docket-stub")
}

// A document is read and marked in the page; sound is played; all of it is saved at
// once.
func TestLookingAtWhatWasGiven(t *testing.T) {
	h := open(t)
	p := h.visitor(1280, 800)
	p.goTo(h.linkOf("Mads Thorvald"))
	p.press("button", "Read", ".handed")
	p.until("the first page is drawn", `document.querySelector(".look canvas")?.dataset.drawn === "1"`)
	p.press("button", "Page after", ".look")
	p.until("the second page is drawn", `document.querySelector(".look canvas")?.dataset.drawn === "2"`)
	p.press("button", "Done", ".look")
	p.press("button", "Ask for changes", ".handed")
	p.press("button", "Read", ".ask-changes")
	p.until("it is drawn", `document.querySelector(".look canvas")?.dataset.drawn === "1"`)
	at := p.middle(".look .marked-picture")
	p.drags([2]float64{at[0] - 60, at[1] - 40}, at, [2]float64{at[0] + 60, at[1] + 40})
	p.until("a frame is there", `document.querySelector(".look .spot.area:not(.drawing)") !== null`)
	p.types("What should be different at mark 1", "Darker here", ".look")
	p.press("button", "Done", ".look")
	p.press("button", "Ask for these changes")
	p.sees("Darker here 1013-chart.pdf, Page 1", ".handed")
	p.sees("Save all 2 files", ".handed")

	p.goTo(h.linkOf("Jorun Pettibone"))
	p.until("the sound can be played", `(() => { const a = document.querySelector(".handed audio"); if (a && a.preload !== "auto") { a.preload = "auto"; a.load(); } return a?.duration > 3; })()`)
}

// film makes a short film in a visitor's browser, and gives its file.
func (p *person) film(name string) string {
	p.t.Helper()
	data, err := chromedp.Run(p.ctx, chromedp.Evaluate[string](`new Promise((done) => {
		const canvas = document.createElement("canvas");
		canvas.width = 160; canvas.height = 120;
		const brush = canvas.getContext("2d");
		const recorder = new MediaRecorder(canvas.captureStream(25), { mimeType: "video/webm;codecs=vp8" });
		const parts = [];
		recorder.ondataavailable = (e) => parts.push(e.data);
		recorder.onstop = () => {
			const reader = new FileReader();
			reader.onload = () => done(reader.result.split(",")[1]);
			reader.readAsDataURL(new Blob(parts));
		};
		recorder.start();
		let frame = 0;
		const drawing = setInterval(() => {
			brush.fillStyle = frame % 2 ? "navy" : "white";
			brush.fillRect(frame * 4, 20, 40, 40);
			if (++frame === 30) { clearInterval(drawing); recorder.stop(); }
		}, 40);
	})`, chromedp.EvalAwaitPromise))
	must(p.t, err)
	film, err := base64.StdEncoding.DecodeString(data)
	must(p.t, err)
	path := filepath.Join(p.t.TempDir(), name)
	must(p.t, os.WriteFile(path, film, 0o600))
	return path
}

// A film that was handed over plays on the order page.
func TestAFilmPlays(t *testing.T) {
	h := open(t)
	desk := h.visitor(1280, 800)
	desk.signIn()
	desk.goTo("/desk/orders?text=1016")
	desk.press("button", "Hand over", ".docket")
	desk.drops(desk.film("1016-turning.webm"))
	desk.sees("1016-turning.webm", ".give-form")
	desk.press("button", "Hand over", ".give-form")
	desk.sees("1016-turning.webm", ".given")

	phone := h.visitor(390, 844)
	phone.goTo(h.linkOf("Leandro Fioravanti"))
	phone.until("the film plays", `(() => {
		const film = document.querySelector(".handed video");
		if (!film) return false;
		film.muted = true;
		if (film.paused && !film.ended) film.play();
		return film.videoWidth === 160 && film.currentTime > 0.2;
	})()`)
}

// A file is laid beside an item, is there for whoever does it, and can be taken away; a
// worksheet is saved on paper.
func TestAFileBesideWork(t *testing.T) {
	h := open(t)
	d := h.visitor(1280, 800)
	d.signIn()
	d.goTo("/desk/orders?text=1021")
	d.press("button", "File Write the card")
	d.dropsInto("Files beside the work", picture(t, "colours.png", 64, 48), picture(t, "shades.png", 64, 48), picture(t, "tints.png", 64, 48))
	names := []string{"colours.png", "shades.png", "tints.png"}
	for _, name := range names { // each is kept, however they came in
		d.until(name+" is kept", fmt.Sprintf(`ruvo.find("link", %q, ".docket")`, name))
	}
	d.press("link", "colours.png")
	d.goTo("/desk")
	for _, name := range names {
		d.sees(name)
	}
	d.goTo("/desk/orders?text=1021")
	d.press("button", "Take colours.png away")
	d.misses("colours.png", ".docket")
	d.reload()
	d.sees("tints.png", ".docket")
	d.misses("colours.png", ".docket")
	d.goTo("/desk/work/1/letter")
	d.sees("Letter", ".sheet-tools")
	d.until("the sheet is a PDF", `(window.asked ??= fetch("/api/desk/worksheets/1/letter/sheet.pdf?paper=letter").then((r) => r.text()).then((text) => (window.begins = text.slice(0, 5)))) && window.begins === "%PDF-"`)
}
