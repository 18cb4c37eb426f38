package main

import (
	"errors"
	"os"
	"path/filepath"
	"strings"
	"testing"
)

// Every direct dependency that is shipped has its licence in the notices, and what has none is an error.
func TestEverythingShippedIsNamed(t *testing.T) {
	if err := os.Chdir("../.."); err != nil {
		t.Fatal(err)
	}
	var out strings.Builder
	if err := write(&out, "web"); err != nil {
		t.Fatal(err)
	}
	for _, name := range []string{
		"modernc.org/sqlite v", "github.com/go-chi/chi/v5 v", "gonum.org/v1/gonum v", "golang.org/x/image v", "Go 1.",
		"github.com/alexedwards/scs/v2 v", "svelte 5", "tailwindcss ", "flowbite-svelte ", "pdfjs-dist ", "pdfjs-dist/standard_fonts",
		"@fontsource-variable/atkinson-hyperlegible-next ",
	} {
		if strings.Count(out.String(), "\n"+name) != 1 || strings.Count(out.String(), "  "+name) != 1 {
			t.Errorf("%q is not in it once in the list and once with its licence", name)
		}
	}
	for _, says := range []string{
		"SIL OPEN FONT LICENSE", "Permission is hereby granted", "Redistribution and use in source and binary forms", "Apache License",
	} {
		if !strings.Contains(out.String(), says) {
			t.Errorf("no licence says %q", says)
		}
	}
	for _, not := range []string{"chromedp", "staticcheck", "eslint", "apexcharts", "steptrace/"} {
		if strings.Contains(out.String(), "\n  "+not) {
			t.Errorf("%s is not shipped", not)
		}
	}
}

func TestWithoutALicence(t *testing.T) {
	dir := t.TempDir()
	if _, err := licence(dir); !errors.Is(err, errNone) {
		t.Error(err)
	}
	if err := os.WriteFile(filepath.Join(dir, "Licence.md"), []byte(" do as you like \n"), 0o600); err != nil {
		t.Fatal(err)
	}
	if says, err := licence(dir); err != nil || says != "do as you like" {
		t.Error(says, err)
	}
}
