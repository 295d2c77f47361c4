package api

import (
	"context"
	"io"
	"io/fs"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gin-gonic/gin"

	"notchback/internal/core/gait"
	"notchback/internal/device"
	"notchback/internal/record"
	"notchback/internal/room"
)

type clipIn struct {
	RunnerPath
	Body gait.Clip
}

type clipPath struct {
	RunnerPath
	Clip string `path:"clip" format:"uuid"`
}

type keepIn struct {
	ScreenPath
	Clip string `path:"clip" format:"uuid"`
	Body struct {
		Clip     gait.Clip `json:"clip"`
		Replaces string    `json:"replaces,omitempty" doc:"an earlier keeping of the same clip with this screen"`
	}
}

type proposeIn struct {
	RunnerPath
	Body struct {
		Clip   gait.Clip    `json:"clip"`
		Tracks []gait.Track `json:"tracks" maxItems:"8"`
	}
}

type compareIn struct {
	RunnerPath
	Body struct {
		First  gait.Clip `json:"first"`
		Second gait.Clip `json:"second"`
		Across bool      `json:"across" doc:"left of the first against right of the second"`
	}
}

// StillPath names a kept picture; exported because the router fills no embedded struct that is not.
type StillPath struct {
	RunnerPath
	Still string `path:"still" format:"uuid"`
}

type stillIn struct {
	StillPath
	Body struct {
		Picture []byte `json:"picture" doc:"JPEG"`
	}
}

type stillOut struct {
	Type string `header:"Content-Type"`
	Body []byte
}

func (s *server) gait() {
	show := func(ctx context.Context, in *RunnerPath) (room.Gait, error) {
		return s.desk.Gait(ctx, actor(ctx), in.Runner)
	}
	then := func(ctx context.Context, runner string, err error) (room.Gait, error) {
		if err != nil {
			return room.Gait{}, err
		}
		return s.desk.Gait(ctx, actor(ctx), runner)
	}
	do(s, http.MethodGet, "/api/runners/{runner}/gait", "gait", "A runner's clips, gait chain and cadence", show)
	do(s, http.MethodPost, "/api/runners/{runner}/gait/read", "read-clip", "Read the numbers of a clip; nothing is kept",
		func(ctx context.Context, in *clipIn) (gait.Reading, error) {
			return s.desk.ReadClip(ctx, actor(ctx), in.Runner, in.Body)
		})
	do(s, http.MethodPost, "/api/runners/{runner}/gait/propose", "propose-marks", "Propose marks from followed tape; nothing is kept",
		func(ctx context.Context, in *proposeIn) ([]gait.Proposal, error) {
			return s.desk.ProposeMarks(ctx, actor(ctx), in.Runner, in.Body.Clip, in.Body.Tracks)
		})
	do(s, http.MethodPost, "/api/runners/{runner}/gait/compare", "compare-clips", "Set two clips side by side",
		func(ctx context.Context, in *compareIn) ([]gait.Difference, error) {
			return s.desk.CompareClips(ctx, actor(ctx), in.Runner, in.Body.First, in.Body.Second, in.Body.Across)
		})
	do(s, http.MethodPut, "/api/runners/{runner}/screens/{screen}/clips/{clip}", "keep-clip", "Keep marks and numbers with a screen",
		func(ctx context.Context, in *keepIn) (room.Gait, error) {
			return then(ctx, in.Runner, s.desk.KeepClip(ctx, actor(ctx), in.Runner, in.Screen, in.Clip, in.Body.Replaces, in.Body.Clip))
		})
	do(s, http.MethodGet, "/api/runners/{runner}/clips/{clip}", "clip", "What was marked on a kept clip",
		func(ctx context.Context, in *clipPath) (record.Kept[gait.Clip], error) {
			return s.desk.Clip(ctx, actor(ctx), in.Runner, in.Clip)
		})
	remove := func(out bool) func(context.Context, *clipPath) (room.Gait, error) {
		return func(ctx context.Context, in *clipPath) (room.Gait, error) {
			return then(ctx, in.Runner, s.desk.RemoveClip(ctx, actor(ctx), in.Runner, in.Clip, out))
		}
	}
	do(s, http.MethodDelete, "/api/runners/{runner}/clips/{clip}", "remove-clip", "Take a clip and its figures out; they are kept",
		remove(true))
	do(s, http.MethodPost, "/api/runners/{runner}/clips/{clip}/restore", "restore-clip", "Put a removed clip back", remove(false))
	do(s, http.MethodPut, "/api/runners/{runner}/stills/{still}", "keep-still", "Keep one picture",
		func(ctx context.Context, in *stillIn) (nothing, error) {
			return ok(s.desk.KeepStill(ctx, actor(ctx), in.Runner, in.Still, in.Body.Picture))
		})
	do(s, http.MethodDelete, "/api/runners/{runner}/stills/{still}", "drop-still", "Delete a picture for good",
		func(ctx context.Context, in *StillPath) (nothing, error) {
			return ok(s.desk.DropStill(ctx, actor(ctx), in.Runner, in.Still))
		})
	huma.Register(s.huma, huma.Operation{OperationID: "still", Method: http.MethodGet, Path: "/api/runners/{runner}/stills/{still}",
		Summary: "A kept picture", Middlewares: huma.Middlewares{s.signedIn}}, func(ctx context.Context, in *StillPath) (*stillOut, error) {
		picture, err := s.desk.Still(ctx, actor(ctx), in.Runner, in.Still)
		if err != nil {
			return nil, s.failed(ctx, err)
		}
		return &stillOut{"image/jpeg", picture}, nil
	})
	do(s, http.MethodGet, "/api/films", "films", "Simulated clips to practise on", func(context.Context, *struct{}) ([]device.Film, error) {
		if s.cfg.Films == nil {
			return []device.Film{}, nil
		}
		return s.cfg.Films.List(), nil
	})
}

// film serves the file of a simulated clip; players ask for parts of it.
func (s *server) film(c *gin.Context) {
	var file fs.File
	err := fs.ErrNotExist
	if s.cfg.Films != nil {
		file, err = s.cfg.Films.Open(c.Param("name"))
	}
	if err != nil {
		problem(c.Writer, http.StatusNotFound, "There is no such clip.")
		return
	}
	defer file.Close()
	c.Header("Content-Type", "video/mp4")
	http.ServeContent(c.Writer, c.Request, "", time.Time{}, file.(io.ReadSeeker))
}
