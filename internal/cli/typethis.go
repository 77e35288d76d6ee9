package cli

import (
	"os"
	"path/filepath"

	"notaria/internal/notary"
	"notaria/internal/platform"
	"notaria/internal/platform/all"
	"notaria/internal/registry"
)

// typedOn are the platforms of which names shows what to type: those that --for names,
// else those that the project around has apps for, else all.
func (a *app) typedOn(names []string) ([]platform.Platform, error) {
	var out []platform.Platform
	for _, n := range names {
		t, ok := all.Named(n)
		if !ok {
			return nil, wrongUse("--for: expected a target, found %q; see: notaria targets", n)
		}
		out = append(out, t)
	}
	if len(out) > 0 || a.json {
		return out, nil
	}
	if out = a.surrounding(all.Platforms); len(out) == 0 {
		out = all.Platforms
	}
	return out, nil
}

// surrounding are the platforms of some that the project around has apps for; none outside of a
// project. What is wrong with the project is not the business of names.
func (a *app) surrounding(of []platform.Platform) []platform.Platform {
	root, err := a.projectRoot()
	if err != nil {
		return nil
	}
	if !isProject(root) {
		return nil
	}
	p, err := notary.Look(root, all.Platforms)
	if err != nil {
		return nil
	}
	defer p.Close()
	var out []platform.Platform
	for _, t := range of {
		if sites, _ := p.Sites(t); len(sites) > 0 {
			out = append(out, t)
		}
	}
	return out
}

// isProject says whether a folder is one that people build: it has notaria.toml, is under version control, or holds what
// begins a project. Only such a folder is looked through; a home folder, or one of downloads, is not.
func isProject(root string) bool {
	for _, name := range []string{registry.FileName, ".git", ".hg", "package.json", "pubspec.yaml", "build.gradle", "build.gradle.kts", "settings.gradle", "settings.gradle.kts",
		"pom.xml", "CMakeLists.txt", "meson.build", "Makefile", "platformio.ini", "project.godot", "Package.swift", "project.yml", "index.html", "main.lua", "conf.lua"} {
		if _, err := os.Stat(filepath.Join(root, name)); err == nil {
			return true
		}
	}
	for _, pattern := range []string{"*.xcodeproj", "*.csproj", "*.sln", "*.slnx", "*.pro", "*.ino"} {
		if found, _ := filepath.Glob(filepath.Join(root, pattern)); len(found) > 0 {
			return true
		}
	}
	return false
}
