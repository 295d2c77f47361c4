// Package observe measures a running server for whoever is on call: numbers in the Prometheus text format, never a name, a
// note or an address of a person.
package observe

import (
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/collectors"
	"github.com/prometheus/client_golang/prometheus/promhttp"
)

// Metrics are what is measured. The zero value measures nothing.
type Metrics struct {
	registry *prometheus.Registry
	requests *prometheus.HistogramVec
	refused  *prometheus.CounterVec
	jobs     *prometheus.HistogramVec
}

// New returns metrics that are kept; pool is asked for the connections, oldest for how long the oldest standing that is out
// of date has been so, when they are read.
func New(pool func() *pgxpool.Stat, oldest func() time.Duration) *Metrics {
	m := &Metrics{
		registry: prometheus.NewRegistry(),
		requests: prometheus.NewHistogramVec(prometheus.HistogramOpts{Name: "notchback_request_seconds", Help: "Requests by route and answer.",
			Buckets: []float64{.005, .01, .025, .05, .1, .25, .5, 1, 2.5, 5, 10}}, []string{"method", "route", "status"}),
		refused: prometheus.NewCounterVec(prometheus.CounterOpts{Name: "notchback_phone_refused_total",
			Help: "Reports from phones that were refused and wait there with the reason."}, []string{"route", "status"}),
		jobs: prometheus.NewHistogramVec(prometheus.HistogramOpts{Name: "notchback_job_seconds", Help: "Work behind the requests.",
			Buckets: []float64{.01, .05, .1, .5, 1, 5, 30, 120}}, []string{"job", "outcome"}),
	}
	gauge := func(name, help string, f func() float64) prometheus.Collector {
		return prometheus.NewGaugeFunc(prometheus.GaugeOpts{Name: "notchback_" + name, Help: help}, f)
	}
	m.registry.MustRegister(m.requests, m.refused, m.jobs, collectors.NewGoCollector(),
		collectors.NewProcessCollector(collectors.ProcessCollectorOpts{}),
		gauge("pool_connections", "Connections to the database.", func() float64 { return float64(pool().TotalConns()) }),
		gauge("pool_busy", "Connections in use.", func() float64 { return float64(pool().AcquiredConns()) }),
		gauge("pool_most", "Connections allowed.", func() float64 { return float64(pool().MaxConns()) }),
		gauge("pool_waited_seconds_total", "Time that requests waited for a connection.",
			func() float64 { return pool().AcquireDuration().Seconds() }),
		gauge("standing_age_seconds", "How long the oldest standing to be computed has waited.", func() float64 { return oldest().Seconds() }))
	return m
}

// Request is one that was answered. A report of a phone that was refused counts as such too.
func (m *Metrics) Request(method, route string, status int, took time.Duration) {
	if m == nil {
		return
	}
	m.requests.WithLabelValues(method, route, strconv.Itoa(status)).Observe(took.Seconds())
	if strings.HasPrefix(route, "/api/phone") && method == http.MethodPut && status >= 400 && status < 500 {
		m.refused.WithLabelValues(route, strconv.Itoa(status)).Inc()
	}
}

// Job is work behind the requests that ended.
func (m *Metrics) Job(name string, took time.Duration, err error) {
	if m == nil {
		return
	}
	outcome := "done"
	if err != nil {
		outcome = "failed"
	}
	m.jobs.WithLabelValues(name, outcome).Observe(took.Seconds())
}

// Handler serves them at every path, in the text format of Prometheus.
func (m *Metrics) Handler() http.Handler {
	return promhttp.HandlerFor(m.registry, promhttp.HandlerOpts{})
}
