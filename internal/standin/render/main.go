// Command render films the stand-in's runners: it draws every frame and lets ffmpeg write it as a file
// that browsers step through exactly. It is run when a film changes; the files are kept.
package main

import (
	"context"
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"strings"

	"notchback/internal/standin"
)

func main() {
	out := flag.String("out", "internal/standin/clips", "folder the files go to")
	only := flag.String("only", "", "one film's name; empty: all")
	still := flag.Int("still", -1, "write this frame as raw RGBA to standard output instead")
	seconds := flag.Float64("seconds", 0, "film this long instead")
	flag.Parse()
	if err := run(*out, *only, *still, *seconds); err != nil {
		fmt.Fprintln(os.Stderr, "render: "+err.Error())
		os.Exit(1)
	}
}

func run(out, only string, still int, seconds float64) error {
	found := false
	for _, f := range standin.Films {
		if only != "" && only != f.Name {
			continue
		}
		found = true
		if seconds > 0 {
			f.Seconds = seconds
		}
		if still >= 0 {
			_, err := os.Stdout.Write(f.Frame(still).Pix)
			return err
		}
		if err := film(f, filepath.Join(out, f.Name+".mp4")); err != nil {
			return fmt.Errorf("%s: %w", f.Name, err)
		}
	}
	if !found {
		return errors.New("there is no such film")
	}
	if only != "" || seconds > 0 {
		return nil
	}
	text, err := json.MarshalIndent(standin.Films, "", " ")
	if err != nil {
		return err
	}
	return os.WriteFile(filepath.Join(out, "films.json"), append(text, '\n'), 0o644)
}

// film encodes one film: every frame a whole picture, so that a browser can go to any of them.
func film(f standin.Film, path string) error {
	args := []string{"-loglevel", "error", "-y", "-f", "rawvideo", "-pix_fmt", "rgba", "-s", "640x480", "-r", fmt.Sprint(f.PlayFps), "-i", "-"}
	if len(f.Dropped) > 0 {
		not := []string{}
		for _, n := range f.Dropped {
			not = append(not, fmt.Sprintf("eq(n,%d)", n))
		}
		args = append(args, "-vf", "select='not("+strings.Join(not, "+")+")'", "-fps_mode", "passthrough")
	}
	args = append(args, "-c:v", "libx264", "-pix_fmt", "yuv420p", "-g", "1", "-bf", "0", "-crf", "28", "-preset", "slower",
		"-video_track_timescale", "12000", "-movflags", "+faststart", "-map_metadata", "-1", "-fflags", "+bitexact", "-threads", "2", path)
	ctx, stop := context.WithCancel(context.Background())
	defer stop()
	cmd := exec.CommandContext(ctx, "ffmpeg", args...)
	cmd.Stderr = os.Stderr
	in, err := cmd.StdinPipe()
	if err != nil {
		return err
	}
	if err := cmd.Start(); err != nil {
		return fmt.Errorf("starting ffmpeg: %w", err)
	}
	for n := range f.Frames() {
		if _, err := in.Write(f.Frame(n).Pix); err != nil && !errors.Is(err, io.ErrClosedPipe) {
			return errors.Join(fmt.Errorf("frame %d: %w", n, err), cmd.Wait())
		}
	}
	_ = in.Close()
	return cmd.Wait()
}
