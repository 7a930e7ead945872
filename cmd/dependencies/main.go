// Command dependencies writes down what the application is made of beside its own
// code: each direct dependency with its version, licence and date of release.
package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"time"
)

type dependency struct {
	name, version, licence string
	released               time.Time
}

func main() {
	if err := write(os.Stdout); err != nil {
		fmt.Fprintln(os.Stderr, "dependencies:", err)
		os.Exit(1)
	}
}

func write(out *os.File) error {
	modules, err := goModules()
	if err != nil {
		return err
	}
	packages, err := npmPackages()
	if err != nil {
		return err
	}
	fmt.Fprint(out, "# Dependencies\n\nEach direct dependency with its version, licence and date of release; `make dependencies` writes this list anew. Whether one of them\nhas become known to be vulnerable is not asked here, since no such list can be reached from where this is made: compare the versions with one that can.\n")
	table(out, "Go modules", modules)
	table(out, "npm packages", packages)
	fmt.Fprint(out, "\nFrom Debian: PostgreSQL; for tests Chromium, poppler-utils and Tesseract; where they are wanted LibreOffice and Tesseract. They are kept by the distribution.\n")
	return nil
}

func table(out *os.File, title string, all []dependency) {
	slices.SortFunc(all, func(a, b dependency) int { return strings.Compare(a.name, b.name) })
	fmt.Fprintf(out, "\n## %s\n\n| name | version | licence | released |\n|---|---|---|---|\n", title)
	for _, d := range all {
		released := "unknown"
		if !d.released.IsZero() {
			released = d.released.Format("2006-01-02")
		}
		fmt.Fprintf(out, "| %s | %s | %s | %s |\n", d.name, d.version, d.licence, released)
	}
}

// goModules reads the modules that go.mod asks for itself.
func goModules() (all []dependency, err error) {
	raw, err := exec.Command("go", "list", "-m", "-json", "all").Output()
	if err != nil {
		return nil, fmt.Errorf("listing modules: %w", err)
	}
	for d := json.NewDecoder(bytes.NewReader(raw)); d.More(); {
		var m struct {
			Path, Version, Dir string
			Time               time.Time
			Main, Indirect     bool
		}
		if err := d.Decode(&m); err != nil {
			return nil, err
		}
		if !m.Main && !m.Indirect {
			all = append(all, dependency{m.Path, m.Version, licence(m.Dir), m.Time})
		}
	}
	return all, nil
}

// npmPackages reads what web/package.json asks for, from what is installed.
func npmPackages() (all []dependency, err error) {
	var asked struct{ Dependencies, DevDependencies map[string]string }
	if err := readJSON("web/package.json", &asked); err != nil {
		return nil, err
	}
	for _, names := range []map[string]string{asked.Dependencies, asked.DevDependencies} {
		for name := range names {
			var p struct{ Version, License string }
			if err := readJSON(filepath.Join("web/node_modules", name, "package.json"), &p); err != nil {
				return nil, err
			}
			all = append(all, dependency{name, p.Version, p.License, released(name, p.Version)})
		}
	}
	return all, nil
}

// released asks the registry when a version came out; unknown where it does not say.
func released(name, version string) time.Time {
	raw, err := exec.Command("npm", "view", name, "time", "--json").Output()
	var times map[string]time.Time
	if err != nil || json.Unmarshal(raw, &times) != nil {
		return time.Time{}
	}
	return times[version]
}

func readJSON(name string, into any) error {
	raw, err := os.ReadFile(name)
	if err != nil {
		return err
	}
	return json.Unmarshal(raw, into)
}

// marks tell licences by words that only they have, the narrower first.
var marks = []struct{ words, name string }{
	{"Apache License", "Apache-2.0"}, {"Mozilla Public License Version 2.0", "MPL-2.0"}, {"Mozilla Public License, version 2.0", "MPL-2.0"}, {"Mozilla Public License, v. 2.0", "MPL-2.0"},
	{"Neither the name of", "BSD-3-Clause"}, {"names of its contributors", "BSD-3-Clause"}, {"Redistribution and use in source and binary forms", "BSD-2-Clause"},
	{"Permission to use, copy, modify, and/or distribute", "ISC"}, {"Permission is hereby granted, free of charge", "MIT"},
}

func licence(dir string) string {
	for _, pattern := range []string{"LICENSE*", "LICENCE*", "COPYING*", "License*", "license*"} {
		found, _ := filepath.Glob(filepath.Join(dir, pattern))
		for _, name := range found {
			raw, err := os.ReadFile(name)
			if err != nil {
				continue
			}
			text := strings.ToLower(strings.Join(strings.Fields(string(raw)), " "))
			for _, m := range marks {
				if strings.Contains(text, strings.ToLower(m.words)) {
					return m.name
				}
			}
		}
	}
	return "see its sources"
}
