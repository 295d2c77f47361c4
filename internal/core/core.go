// Package core holds Notchback's rules and arithmetic: screening, findings, programmes and their
// adjustment. Nothing below this folder reads a clock, a file, a database or the network; dates and
// records come in, decisions with their reasons go out.
package core

// EngineVersion is stored with every decision, so that a decision can be replayed with the code
// that took it. Raise it whenever a rule's outcome can change.
const EngineVersion = "2026.12.4"
