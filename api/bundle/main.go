// Command bundle puts the contract together: one file a capability, and what all of
// them share, become openapi.yaml, from which types are generated for both sides.
//
// A name that two files define, and an operation that stands under another tag than
// its file's, are mistakes.
package main

import (
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"go.yaml.in/yaml/v3"
)

const common = "common.yaml"

func main() {
	if err := run(os.Args[1]); err != nil {
		fmt.Fprintln(os.Stderr, "bundle:", err)
		os.Exit(1)
	}
}

func run(dir string) error {
	whole, err := read(filepath.Join(dir, common))
	if err != nil {
		return err
	}
	files, err := filepath.Glob(filepath.Join(dir, "*.yaml"))
	if err != nil {
		return err
	}
	slices.Sort(files)
	for _, file := range files {
		switch name := filepath.Base(file); name {
		case common, "openapi.yaml", "models.yaml", "server.yaml":
		default:
			part, err := read(file)
			if err != nil {
				return err
			}
			if err := tagged(part, strings.TrimSuffix(name, ".yaml")); err != nil {
				return err
			}
			if err := join(whole, part, ""); err != nil {
				return fmt.Errorf("%s: %w", name, err)
			}
		}
	}
	var out bytes.Buffer
	out.WriteString("# Put together from the files beside it by make generate; DO NOT EDIT.\n")
	enc := yaml.NewEncoder(&out)
	enc.SetIndent(2)
	if err := enc.Encode(whole); err != nil {
		return err
	}
	return os.WriteFile(filepath.Join(dir, "openapi.yaml"), out.Bytes(), 0o644)
}

func read(file string) (*yaml.Node, error) {
	raw, err := os.ReadFile(file)
	if err != nil {
		return nil, err
	}
	var doc yaml.Node
	if err := yaml.Unmarshal(raw, &doc); err != nil {
		return nil, fmt.Errorf("reading %s: %w", file, err)
	}
	doc.Content[0].HeadComment = ""
	return doc.Content[0], nil
}

// tagged refuses operations that do not bear the tag of their file.
func tagged(part *yaml.Node, tag string) error {
	paths := at(part, "paths")
	if paths == nil {
		return fmt.Errorf("%s has no paths", tag)
	}
	for i := 1; i < len(paths.Content); i += 2 {
		for j := 1; j < len(paths.Content[i].Content); j += 2 {
			op := paths.Content[i].Content[j]
			if tags := at(op, "tags"); at(op, "operationId") != nil && (tags == nil || len(tags.Content) != 1 || tags.Content[0].Value != tag) {
				return fmt.Errorf("%s has another tag than its file", at(op, "operationId").Value)
			}
		}
	}
	return nil
}

func at(n *yaml.Node, key string) *yaml.Node {
	for i := 0; n.Kind == yaml.MappingNode && i < len(n.Content); i += 2 {
		if n.Content[i].Value == key {
			return n.Content[i+1]
		}
	}
	return nil
}

// sections are what is joined; what lies below is defined once.
var sections = []string{"", "tags", "paths", "components", "components.schemas", "components.parameters"}

func join(whole, part *yaml.Node, where string) error {
	if !slices.Contains(sections, where) {
		return fmt.Errorf("%s is defined twice", where)
	}
	if part.Kind == yaml.SequenceNode {
		whole.Content = append(whole.Content, part.Content...)
		return nil
	}
	for i := 0; i < len(part.Content); i += 2 {
		key, value := part.Content[i], part.Content[i+1]
		there := at(whole, key.Value)
		if there == nil {
			whole.Content = append(whole.Content, key, value)
			continue
		}
		if err := join(there, value, strings.TrimPrefix(where+"."+key.Value, ".")); err != nil {
			return err
		}
	}
	return nil
}
