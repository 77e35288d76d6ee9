package audit

import (
	"cmp"
	"errors"
	"fmt"
	"path"
	"slices"
	"strings"

	"notaria/internal/fault"
	"notaria/internal/lazy"
	"notaria/internal/notary"
	"notaria/internal/platform"
	"notaria/internal/registry"
)

// The rules' ids.
const (
	FileMissing     = "file-missing"
	FileDiffers     = "file-differs"
	EntryNoFile     = "entry-without-file"
	FileNoEntry     = "file-without-entry"
	NotInBuild      = "not-in-build-phase"
	TwoOfOneName    = "two-files-of-one-name"
	OnOnePlatform   = "font-on-one-platform"
	NoApp           = "no-app-found"
	NameRefused     = "file-name-refused"
	MadeBefore      = "made-before-the-fonts"
	UnknownName     = "unknown-font-name"
	FileNameAsFont  = "file-name-as-font-name"
	FromNetwork     = "font-from-network"
	UnknownResource = "unknown-font-resource"
	UnknownRole     = "unknown-role"
	StyleOverRole   = "style-over-role"
	NotAProperty    = "not-a-property"
	NoCharacter     = "character-not-in-atlas"
	BeforeLoad      = "font-before-load"
	NotServed       = "app-not-served"
	AppGone         = "app-gone"
	CodeNotRead     = "code-not-read"
	WeightOnFace    = "weight-on-a-face"
	AcceptsNothing  = "accepts-nothing"
	OutOfPlace      = "entry-out-of-place"
	WrongForm       = "entry-of-wrong-form"
	NotOnOld        = "not-on-old-systems"
	WeightUnlike    = "weight-unlike-the-face"
	NoWeight        = "weight-not-declared"
	StyleNotThere   = "style-not-there"
	SameTwice       = "same-face-twice"
	BesideVariable  = "static-beside-variable"
	Forbidden       = "embedding-forbidden"
	NotUsed         = "font-not-used"
	RoleNotUsed     = "role-not-used"
	Ignored         = "file-ignored"
	NotInFont       = "character-not-in-font"
	OriginalMissing = "original-missing"
	OriginalChanged = "original-changed"
	NoLicence       = "licence-missing"
	OverBudget      = "over-budget"
	OlderCode       = "written-by-an-older-notaria"
	FontBroken      = "font-broken"
	FontHeavier     = "font-heavier"
	PreloadWasted   = "preload-wasted"
	FontBlocked     = "font-blocked"
	IntegrityUnlike = "integrity-unlike-the-file"
)

// Rules are the rules, in the order in which people read of them.
var Rules = []Rule{
	{FileMissing, Error, "a file that should be in the app is not on disk", "the build fails, or the system's font shows",
		"it was never registered, or it was deleted, moved, or renamed for one platform", "notaria register puts it there again", fileMissing},
	{FileDiffers, Error, "a file of Notaria's has another content than the plan says", "the app shows an old face, or roles that are not those of the registry",
		"notaria.toml or a font changed since the last registration, or somebody edited the file", "notaria register; with --overwrite where the file was edited, after the change is kept elsewhere", fileDiffers},
	{OlderCode, Note, "generated files are those of an older version of Notaria", "the apps work as before; a registration brings them up to date",
		"Notaria was updated since the last registration", "notaria register", olderCode},
	{EntryNoFile, Error, "a manifest names a font file that is not there", "the build stops, or the entry does nothing",
		"the file was deleted or renamed, or its name, its folder or its ending is mistyped in the manifest", "correct the name, or take the line out", entryNoFile},
	{FileNoEntry, Error, "a font file is in the app, but no manifest names it", "the system loads only what manifests name",
		"the file was copied into the folder, and the list that the system reads was forgotten", "name it in the list, or enrol the file and register it", fileNoEntry},
	{NotInBuild, Error, "a file is on disk, but the target does not build it in", "the app is built without the file",
		"a file that is dragged into a folder is not in the target: the resources phase must name it", "give it the target's membership in the file inspector, or enrol it and register it", notInBuild},
	{TwoOfOneName, Error, "two files come into the app under one name", "the build stops, or one takes the place of the other",
		"a font was added by hand in one place and by a tool in another; or two endings stand for one resource", "take one of the two out", twoOfOneName},
	{OnOnePlatform, Warning, "an app for two platforms has a font on one of them alone", "the other shows its own font",
		"the font was linked for one platform, or a new one was copied by hand", "add it on the other, or enrol it and register it: one string serves both then", onOnePlatform},
	{NoApp, Warning, "no app was recognised in the project", "nothing was proved",
		"the command runs in another folder, or the app's manifest is in one that is passed over", "name the folder with --project; notaria targets says what is recognised", noApp},
	{NameRefused, Error, "a font file has a name that the platform does not take", "the build stops, or the file is passed over",
		"the file has the name that it was downloaded under: capitals, hyphens, a digit in front", "rename it as the finding says", nameRefused},
	{MadeBefore, Error, "a part of the app that another tool makes does not hold the fonts", "the app is built without them, and the system's font shows",
		"native folders were made by prebuild, and the font was entered in the configuration afterwards", "npx expo prebuild, and a new build", madeBefore},
	{UnknownName, Error, "code asks for a font by a name that no font of the app answers to", "the platform reports nothing and shows its own font",
		"a mistake in writing; a family's name where the face's is wanted, or the other way round; a font that was never added", "type the name that notaria names prints, or a role of the generated code", named(platform.UnknownFace)},
	{FileNameAsFont, Error, "code types the file's name where the font's belongs", "the platform reports nothing and shows its own font",
		"the file's name is what people see; the system goes by the name inside the font", "type the name that notaria names prints, without an ending", named(platform.FileAsName)},
	{UnknownResource, Error, "code or layout asks for a font resource that is not there", "the build or the layout fails",
		"the resource was renamed, is in another module or source set, or is mistyped", "correct the name", named(platform.NoSuchThing)},
	{UnknownRole, Error, "markup or a style names a role that is not there", "the platform reports nothing, and the text keeps its look",
		"the role was renamed or struck, or is mistyped", "write a role that notaria.toml has", named(platform.NoSuchRole)},
	{StyleOverRole, Warning, "a style of its own wins over a role's", "the text keeps the font of that style",
		"a selector of more ids and classes, or an attribute of the element itself, wins over a class", "let the role alone set the font", named(platform.OverRole)},
	{NotAProperty, Error, "a style sets a font by a property that the platform does not have", "the platform passes it over",
		"style sheets of the web, of JavaFX and of Flex spell the same property in different ways", "write it as the platform does", named(platform.NotAProperty)},
	{NoCharacter, Warning, "a string of the app has a character that no role's atlas holds", "the character is not drawn",
		"a new text has a letter that was not among those for which the atlas was drawn", "add it under characters of the role, or take a face that has it", named(platform.NoCharacter)},
	{BeforeLoad, Error, "code uses a font before it is loaded, or where it is never loaded", "another font shows, or nothing is drawn",
		"loading takes time: code that runs at once does not wait for it", "load in the place that the finding names, and draw afterwards", named(platform.TooEarly)},
	{NotServed, Error, "an app, or one of its manifests, cannot be read or served", "nothing of it can be proved",
		"a manifest cannot be read, or lacks what must be known", "what the finding says; or leave the app out", notServed},
	{AppGone, Error, "an app that Notaria registered fonts in is no longer there", "nothing of it can be proved",
		"the app's folder was deleted, moved or renamed", "bring it back, or run notaria register, which takes it off the ledger", appGone},
	{CodeNotRead, Warning, "a source file cannot be read", "a wrong name in it would not be found",
		"the file may not be read, or is none", "let this user read it (chmod u+r)", codeNotRead},
	{WeightOnFace, Warning, "a style asks for a weight or italic beside the name of one face", "the platform fakes it, or shows its own font",
		"the name of a face already says its weight; the platform looks for a bolder one of that name, and there is none", "take the weight out, and name the face of that weight", weightOnFace},
	{OutOfPlace, Error, "an entry is where the platform does not look for it", "the platform passes it over without a word",
		"indentation, or the wrong parent, file or target: the entry reads well and means nothing", "move it to where the finding says", flawed(platform.OutOfPlace)},
	{WrongForm, Error, "an entry has a value of a kind that the platform does not take", "the build stops, or the entry means nothing",
		"a word where a number belongs, a text where a list belongs, an ending too much or too little", "write it as the finding says", flawed(platform.WrongForm)},
	{NotOnOld, Error, "the oldest system that the app is for does not take a font of this kind", "another font shows there",
		"variable fonts, collections and compressed fonts are younger than the app's minimum version", "take static files, or raise the minimum version", flawed(platform.TooNew)},
	{WeightUnlike, Warning, "an entry gives a font another weight or slant than it has", "another face shows than the one that was asked for",
		"an entry was copied for the next file, and its weight forgotten", "write the weight and the slant of the font", flawed(platform.Unlike)},
	{NoWeight, Warning, "faces of one family are entered without what tells them apart", "one of them shows for all weights",
		"the weight and the slant were left out of the entries", "write the weight and the slant of each", flawed(platform.NoWeight)},
	{StyleNotThere, Warning, "a weight or a slant is asked for that the family does not have", "the platform fakes it, or takes the nearest",
		"the face of that weight was never added, or the style was copied from another family", "add the face of that weight, or ask for one that is there", styleNotThere},
	{SameTwice, Warning, "an app carries the same face in two files", "the app is larger, and it is not certain which of the two shows",
		"the font was added by hand and by a tool, or under two names", "take one of the two out", sameTwice},
	{BesideVariable, Warning, "an app carries a variable font and static faces of the same family", "the app is larger, and two fonts answer to one name",
		"a download often holds both forms, and both were added", "keep one of the two forms", besideVariable},
	{Forbidden, Error, "an app carries a font whose maker does not allow to embed it", "it may not be shipped",
		"the font's licence is for installing alone (fsType of the table OS/2)", "take another font, or ask for a licence for apps", embedding},
	{NotUsed, Note, "an app carries a font that nothing asks for", "the app is larger than it need be",
		"the font's use was taken out, or it was never used", "take the font out", notUsed},
	{RoleNotUsed, Warning, "an app has its fonts, and nothing in it uses a role or a face", "its texts show the system's font",
		"the fonts are registered, and no text was given one yet", "write what notaria usage prints for the app", roleNotUsed},
	{Ignored, Warning, "version control passes over a font of an app", "a fresh copy of the project has no such font, and the build stops or shows another",
		"a pattern of .gitignore takes in more than was meant", "take the pattern out, or except the font: !fonts/*.ttf", fileIgnored},
	{FromNetwork, Note, "an app fetches a font over the network when it runs", "without a network another font shows, and another host learns who reads; an error where notaria.toml says offline = true",
		"the font was tried from a web service, and stayed there", "bring its files into the project: notaria enrol PATH, notaria register; then take the line out", named(platform.FromNetwork)},
	{FontBroken, Error, "a file that is named as a font is none", "another font shows, or the build stops",
		"the download gave a page instead of the font, or a build changed the file", "take the font file itself; let the build copy fonts as they are", fontBroken},
	{FontHeavier, Warning, "a font of a built page is larger than its original (check --page)", "the page loads more than it need",
		"the build unpacked the font, or took in another edition of it", "take in the .woff2 that notaria register writes", ofBuild},
	{PreloadWasted, Warning, "a built page loads a font early that no text shows, or loads it twice (check --page)", "readers wait for a font that does not show",
		"a link was written by hand, and the build gave the font another name; or it lacks crossorigin", "take the link out, or write what the finding says", ofBuild},
	{FontBlocked, Error, "a policy of the page's content keeps browsers from the fonts of its own site", "another font shows, and only the browser's console says why",
		"the policy (Content-Security-Policy) names a service of fonts in font-src, from the time before the fonts came into the project", "add 'self' to font-src", flawed(platform.Blocked)},
	{IntegrityUnlike, Error, "a page says a hash of a style sheet that is not the file's", "browsers refuse the style sheet whole, with its fonts",
		"the style sheet was changed after the hash was made", "make the hash again", flawed(platform.OtherHash)},
	{NotInFont, Note, "a text of the app has letters that none of its fonts holds", "these letters show in another font, or as boxes",
		"a language was added after the font was chosen", "take a font that has them, or add one for that language", notInFont},
	{OriginalMissing, Error, "the original of an enrolled face is not there", "nothing can be registered, or proved",
		"the type folder was not committed, or a file was deleted", "bring it back, enrol it again, or strike the face", originals(OriginalMissing)},
	{OriginalChanged, Error, "the original of an enrolled face is another font now", "apps would get another face under the old name",
		"the file was exchanged by hand", "notaria enrol --replace takes it into every app; or bring the old file back, or correct the name in notaria.toml", originals(OriginalChanged)},
	{NoLicence, Warning, "the licence text of a font is not in the project", "most licences ask that their text travels with the font",
		"it was left behind in the archive, or deleted", "bring it back beside the font, and name it in notaria.toml", noLicence},
	{OverBudget, Warning, "the fonts of an app are larger than the project allows", "the app takes longer to load",
		"faces were added one after the other", "take out what is not used, or raise budget under [check] in notaria.toml", overBudget},
	{AcceptsNothing, Note, "a finding is accepted in notaria.toml that is not there", "the next one of its kind is accepted unseen",
		"what was accepted was mended since, or the rule or the path is mistyped", "take the table out, or correct it", func(*pass, func(Finding)) error { return nil }},
}

const register = "run: notaria register"

func fileMissing(a *pass, report func(Finding)) error {
	for _, w := range a.plan.Files {
		if !a.missing[w.Path] {
			continue
		}
		f := Finding{File: w.Path, Message: "this file should be in the app, and is not there",
			Cause: "it was never registered, or it was deleted or moved", Cure: register, Register: true, lacking: aFile}
		if w.Fonts() > 0 {
			f.lacking = aFont
		}
		// Names that differ by capitals work on the Mac's disk and fail on the phone.
		if other := a.beside(w.Path); other != "" {
			f.Cause = "a file is there under a name that differs by capitals: " + path.Base(other)
			f.Cure, f.Register = "delete that one, then run: notaria register", false
		}
		report(by(w.Owners[0], f))
	}
	return nil
}

func fileDiffers(a *pass, report func(Finding)) error {
	for _, w := range a.plan.Files {
		s, differs := a.differs[w.Path]
		if !differs || s.Older || s.Ours && len(a.changed()) > 0 {
			continue // what follows from a changed original is told there
		}
		f := Finding{File: w.Path, Message: "this file is not what the registry asks for",
			Cause: "notaria.toml, a face, or a text that a face is trimmed to changed since the last register", Cure: register, Register: s.Ours}
		if from, to := a.moved(w.Owners[0]); from != "" && w.Fonts() == 0 {
			f.Cause, f.Cure = fmt.Sprintf("the font %s is now %s, and this code names it where it was", from, to), "move the font back, or run: notaria register, which takes it where it is"
		}
		if !s.Ours {
			f.Cause, f.Cure = "somebody put another file there, or the ledger is lost", "move it away, then run: notaria register; --take-over counts generated files as Notaria's, --overwrite takes the place of others"
		}
		if s.Edited {
			f.Line, f.Message, f.Register = s.Line, "somebody edited this file after Notaria wrote it"+s.What, false
			f.Cause, f.Cure = "what is generated follows notaria.toml: the next registration would lose the change, and stops instead", "keep the change elsewhere (roles and sizes belong in notaria.toml), then run: notaria register --overwrite"
			if w.Fonts() > 0 {
				f.Message, f.Cause, f.Cure = "this font is another than the enrolled one", "somebody put it there after Notaria placed the face", "enrol that font, or run: notaria register --overwrite"
			}
		}
		report(by(w.Owners[0], f))
	}
	return nil
}

// moved is a font of an app that was registered at one place, and that the plan finds at another; "" for none.
func (a *pass) moved(app registry.Owner) (from, to string) {
	for _, w := range a.p.Ledger.Files {
		if !slices.Contains(w.Owners, app) || !platform.LooksLikeFont(w.Path) || a.p.Tree.There(w.Path) {
			continue
		}
		for _, now := range a.plan.Files {
			if slices.Contains(now.Owners, app) && strings.EqualFold(path.Base(now.Path), path.Base(w.Path)) && now.Path != w.Path && a.p.Tree.There(now.Path) {
				return w.Path, now.Path
			}
		}
	}
	return "", ""
}

// olderCode tells once of all files that this version would write in another way.
func olderCode(a *pass, report func(Finding)) error {
	n := 0
	first := Finding{}
	for _, w := range a.plan.Files {
		if a.differs[w.Path].Older {
			if n++; n == 1 {
				first = by(w.Owners[0], Finding{File: w.Path})
			}
		}
	}
	if n == 0 {
		return nil
	}
	what := "this file was"
	if n > 1 {
		what = fmt.Sprintf("%d generated files were", n)
	}
	first.Message, first.Cause, first.Cure, first.Register = what+" written by an older Notaria", "Notaria was updated since the last registration; notaria.toml is the same", register, true
	report(first)
	return nil
}

// ofBuild is the work of rules that look at what was built, and not at the project.
func ofBuild(*pass, func(Finding)) error { return nil }

// certainly are the things in a font's place that no platform reads. A pointer of version control is one of this copy of the project alone, and
// a short text can be a stand-in of a test.
var certainly = lazy.Words("html xml zip gzip pdf appledouble type1 empty")

// fontBroken looks at the files that manifests and style sheets name as fonts.
func fontBroken(a *pass, report func(Finding)) error {
	broken := a.p.Broken()
	for _, s := range a.plan.Sites {
		told := map[string]bool{}
		for _, h := range a.held[siteKey(s)] {
			not := broken[h.File]
			if not == nil || told[h.File] || !certainly.Has(not.Code) {
				continue
			}
			told[h.File] = true
			report(by(s.Owner(), Finding{File: h.Manifest, Line: h.Line, Message: fmt.Sprintf("%s is no font: it is %s", h.File, not.Found), Cause: "the file is called like a font, and holds something else", Cure: not.Cure}))
		}
	}
	return nil
}

// flawed is the rule of one kind of flaw.
func flawed(kind platform.FlawKind) func(*pass, func(Finding)) error {
	return func(a *pass, report func(Finding)) error { return a.flaws(kind, report) }
}

// entryNoFile looks at what manifests name now, whoever wrote it.
func entryNoFile(a *pass, report func(Finding)) error {
	if err := a.flaws(platform.NoSuchFile, report); err != nil {
		return err
	}
	for _, s := range a.plan.Sites {
		for _, h := range a.held[siteKey(s)] {
			_, isPlan := a.missing[h.File]
			if !h.Strict || isPlan || h.File != "" && a.p.Tree.There(h.File) {
				continue // the file is there, or its lack is a finding of its own
			}
			f := Finding{File: h.Manifest, Line: h.Line, Message: fmt.Sprintf("%q is named here, and there is no such file", shown(cmp.Or(h.Name, h.Value))),
				Cause: "the file was deleted or renamed, or the name is mistyped", Cure: "correct the name, or take the line out", Mending: h.Mend}
			if h.Hint.Cause != "" {
				f.Cause, f.Cure = h.Hint.Cause, h.Hint.Cure
			}
			a.strayed(s, h, &f)
			report(by(s.Owner(), f))
		}
	}
	return nil
}

// twoOfOneName looks at what manifests name now, whoever wrote it.
func twoOfOneName(a *pass, report func(Finding)) error {
	for _, s := range a.plan.Sites {
		first := map[string]platform.Held{}
		for _, h := range a.held[siteKey(s)] {
			one, ok := first[strings.ToLower(h.Bundle)]
			switch {
			case h.Bundle == "":
			case !ok:
				first[strings.ToLower(h.Bundle)] = h
			case one.File != h.File:
				report(by(s.Owner(), Finding{File: h.Manifest, Line: h.Line, Message: fmt.Sprintf("%s and %s come into the app under one name", one.File, h.File),
					Cause: "both are " + h.Bundle, Cure: "take one of them out"}))
			}
		}
	}
	return nil
}

func noApp(a *pass, report func(Finding)) error {
	if len(a.plan.Sites) == 0 && len(a.plan.Refused) == 0 && len(a.refused) == 0 {
		report(Finding{File: ".", Message: "no app was recognised in this project", Cause: "none of the manifests that the platforms have is there, or it is in a folder that is passed over (node_modules, build, Pods, hidden ones)",
			Cure: "name the app's folder with --project; notaria targets says what is recognised, and [[site]] in notaria.toml names an app of a platform where nothing shows it"})
	}
	return nil
}

func nameRefused(a *pass, report func(Finding)) error {
	for _, s := range a.plan.Sites {
		for _, h := range a.held[siteKey(s)] {
			if h.Refused {
				report(by(s.Owner(), Finding{File: h.File, Message: fmt.Sprintf("%q is no name that the platform takes", path.Base(h.File)), Cause: h.Hint.Cause, Cure: h.Hint.Cure, Mending: h.Mend}))
			}
		}
	}
	return nil
}

func madeBefore(a *pass, report func(Finding)) error {
	for _, s := range a.plan.Sites {
		r, ok := s.Site.(platform.Remade)
		if !ok {
			continue
		}
		list, err := r.Behind(s.Plan)
		if err != nil {
			return err
		}
		for _, h := range list {
			report(by(s.Owner(), Finding{File: h.Manifest, Message: fmt.Sprintf("%s holds no %s", h.Manifest, h.Name), Cause: h.Hint.Cause, Cure: h.Hint.Cure, lacking: aFont}))
		}
	}
	return nil
}

func fileNoEntry(a *pass, report func(Finding)) error {
	a.entriesLacking(false, report)
	for _, s := range a.plan.Sites {
		var planned []string
		for _, f := range s.Files {
			planned = append(planned, f.Path)
		}
		for _, h := range a.loose[siteKey(s)] {
			if slices.Contains(planned, h.File) || a.meant(s, h.File) || strings.HasPrefix(h.File, a.p.OriginalsFolder()+"/") {
				continue
			}
			report(by(s.Owner(), Finding{File: h.File, Message: fmt.Sprintf("%s of %s does not name this file", h.Value, h.Manifest),
				Cause: "the system loads only the files that this list names", Cure: "enrol the file and register it, or delete it", lacking: anEntry}))
		}
	}
	return a.flaws(platform.NotNamed, report)
}

func notInBuild(a *pass, report func(Finding)) error {
	a.entriesLacking(true, report)
	return a.flaws(platform.NotBuilt, report)
}

// flaws reports what is wrong with fonts that apps have without Notaria; those that are planned are
// proved by other rules.
func (a *pass) flaws(kind platform.FlawKind, report func(Finding)) error {
	for _, s := range a.plan.Sites {
		for _, x := range a.flawsOf(s) {
			if x.Kind == kind && !a.elsewhere(s, x) {
				report(by(s.Owner(), Finding{File: x.File, Line: x.Line, Message: x.Message, Cause: x.Cause, Cure: x.Cure, Mending: x.Mend}))
			}
		}
	}
	return nil
}

// elsewhere says whether a flaw is about a font that Notaria places, an original, or one that another
// app has.
func (a *pass) elsewhere(s notary.SitePlan, x platform.Flaw) bool {
	if x.Subject == "" {
		return false
	}
	if x.Kind == platform.TooNew {
		return false // placing it is what is wrong
	}
	if _, planned := a.missing[x.Subject]; planned || strings.HasPrefix(x.Subject, a.p.OriginalsFolder()+"/") && a.p.Found {
		return true
	}
	if x.Kind != platform.NotNamed && x.Kind != platform.NotBuilt {
		return false
	}
	if a.meant(s, x.Subject) || a.asked(s, x.Subject) {
		return true
	}
	for key, list := range a.held {
		if key != siteKey(s) && slices.ContainsFunc(list, func(h platform.Held) bool { return h.File == x.Subject }) {
			return true
		}
	}
	return false
}

// placed are the faces of planned files, by their paths.
func (a *pass) placed(s notary.SitePlan) []platform.Face {
	var out []platform.Face
	for _, w := range s.Files {
		for _, id := range w.Recipe.Faces() {
			if f, err := a.p.Face(id); err == nil && a.p.Tree.Has(w.Path) {
				f.File = w.Path
				out = append(out, f)
			}
		}
	}
	return out
}

// flawsOf asks a site once.
func (a *pass) flawsOf(s notary.SitePlan) []platform.Flaw {
	key := siteKey(s)
	f, ok := s.Site.(platform.Flawed)
	if !ok || a.broken[key] {
		return nil
	}
	list, known := a.flawed[key]
	if !known {
		var err error
		if list, err = f.Flaws(append(slices.Clone(a.p.PresentFaces()), a.placed(s)...)); err != nil {
			a.refuse(s.Owner(), err)
		}
		a.flawed[key] = list
	}
	return list
}

func onOnePlatform(a *pass, report func(Finding)) error {
	if err := named(platform.OneSide)(a, report); err != nil {
		return err
	}
	return a.flaws(platform.OnePlatform, report)
}

// entriesLacking reports wanted entries that are not there. Those of files which are not
// there either are left out where the build takes files in: the lack of the file is a
// finding already.
func (a *pass) entriesLacking(build bool, report func(Finding)) {
	for _, l := range a.lacks {
		if l.Build != build || build && a.missing[path.Join(path.Dir(path.Dir(l.Entry.File)), l.Entry.Value)] {
			continue
		}
		f := Finding{File: l.Entry.File, Line: l.Line, Message: l.Message, Cause: l.Cause, Cure: l.Cure, lacking: anEntry}
		if f.Cure == "" {
			f.Cure, f.Register = register, true
		}
		report(by(l.owners[0], f))
	}
}

func notServed(a *pass, report func(Finding)) error {
	for _, r := range a.refused {
		var e *fault.Error
		f := Finding{Target: r.Target, Site: r.App, File: r.App, Message: r.Err.Error(), Cure: "see above"}
		if errors.As(r.Err, &e) {
			f.File, f.Line = e.File, e.Line
			f.Message, f.Cause, f.Cure = "expected "+e.Expected, "found "+e.Found, e.Cure
		}
		if way := r.WayOut(); way != "" {
			f.Cure += "; or " + way
		}
		report(f)
	}
	return nil
}

func appGone(a *pass, report func(Finding)) error {
	for _, o := range a.p.Gone(a.plan) {
		report(by(o, Finding{File: o.App, Message: "this app is on the ledger, and is not there", Cause: "it was deleted, moved or renamed",
			Cure: "bring it back, or run: notaria register, which takes it off the ledger"}))
	}
	return nil
}

func codeNotRead(a *pass, report func(Finding)) error {
	for _, u := range a.unread {
		var e *fault.Error
		if errors.As(u.Fault(), &e) {
			report(by(u.owner, Finding{File: u.File, Message: "expected " + e.Expected, Cause: "found " + e.Found, Cure: e.Cure}))
		}
	}
	return nil
}

// named is the rule of one kind of wrong name.
func named(kind platform.Fault) func(*pass, func(Finding)) error {
	return func(a *pass, report func(Finding)) error {
		type place struct {
			site, file string
			from, to   int
		}
		seen := map[place]bool{} // two forms can match at one place
		for _, k := range a.asks {
			at := place{siteKey(k.site), k.at.File, k.from, k.to}
			if k.answer.Fault != kind || seen[at] {
				continue
			}
			seen[at] = true
			f := k.at
			f.Message, f.Cause, f.Cure = k.answer.Message, k.answer.Cause, k.answer.Cure
			f.Mending = k.mending
			report(f)
		}
		return nil
	}
}

// weightOnFace looks in the braces around a face's name for what asks for a weight:
// there is no bolder face under that name.
func weightOnFace(a *pass, report func(Finding)) error {
	weightOnOne(a, report)
	if err := named(platform.OnFace)(a, report); err != nil {
		return err
	}
	type braces struct {
		site, file string
		in         int
	}
	seen := map[braces]int{} // two names in the same braces are one place
	for i, k := range a.asks {
		for _, b := range k.weights {
			at := braces{siteKey(k.site), k.at.File, b.in}
			if first, ok := seen[at]; ok && first != i {
				continue
			}
			seen[at] = i
			f := b.at
			f.Message = fmt.Sprintf("%s is beside the name of one face", b.word)
			f.Cause = "under that name there is one face alone: Android fakes the weight, or falls back to its own font"
			f.Cure = "take it out, and name the face of that weight instead"
			report(f)
		}
	}
	return nil
}
