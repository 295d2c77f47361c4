// Package upgrade holds a dump of the database as each release left it, and the test that brings every
// one of them up to date: no row is lost, no lock opens, no dose gets harder.
package upgrade
