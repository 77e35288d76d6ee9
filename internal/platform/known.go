package platform

import (
	"fmt"
	"maps"
	"path"
	"slices"
	"strings"

	"notaria/internal/face"
	"notaria/internal/language"
	"notaria/internal/lazy"
)

// Systems are the platforms whose own fonts code may name without bringing them.
type Systems int

// Platforms with fonts of their own.
const (
	AppleFonts Systems = 1 << iota
	AndroidFonts
	WindowsFonts
	AnyFonts = AppleFonts | AndroidFonts | WindowsFonts
)

// families are those that come with a platform, without spaces and hyphens, in small letters. Apple:
// developer.apple.com/fonts/system-fonts; Android: /system/etc/fonts.xml; Windows: Microsoft's
// "Windows 11 font list".
var families = map[Systems]*lazy.Set{
	AppleFonts: lazy.Words(`academyengravedlet academyengravedletplain bodonisvtytwoitctt bodonisvtytwoositctt bodonisvtytwosctt bodoniornamentsitctt savoyeletplain stheitisc stheititc zapfdingbatsitc
		damascusbold damascuslight damascusmedium damascussemibold newyorkextralarge newyorklarge newyorkmedium newyorksmall hiraginosansgb songtisc stsong kaitisc stkaiti yuppysc hannotatesc
		alnile americantypewriter applechancery applecoloremoji applesdgothicneo applesymbols arial arialblack arialhebrew
		arialnarrow arialroundedmtbold arialunicodems avenir avenirnext avenirnextcondensed banglasangammn baskerville bigcaslon bodoni72 bodoni72oldstyle bodoniornaments
		bradleyhand bradleyhanditctt brushscriptmt chalkboard chalkboardse chalkduster charter cochin comicsansms copperplate courier couriernew courierprime damascus
		devanagarisangammn didot dinalternate dincondensed euphemiaucas farah futura galvji geezapro geneva georgia gillsans granthasangammn gujaratisangammn gurmukhimn
		heititc heitisc helvetica helveticaneue herculanum hiraginosans hiraginomincho hiraginomaru hirakakupron hiraminpron hiramarupron hoeflertext impact iowanoldstyle
		kailasa kefa khmersangammn kohinoorbangla kohinoordevanagari kohinoorgujarati kohinoortelugu laosangammn lucidagrande luminari malayalamsangammn marion markerfelt
		menlo mishafi monaco muktamahee myanmarsangammn newyork noteworthy notonastaliqurdu optima oriyasangammn palatino papyrus partyletplain phosphate pingfanghk
		pingfangsc pingfangtc ptmono ptsans ptserif rockwell savoyelet sfpro sfprodisplay sfprotext sfprorounded sfmono sfcompact sfcompacttext sfcompactrounded
		sinhalasangammn skia snellroundhand stixgeneral stixtwomath stixtwotext superclarendon symbol tahoma tamilsangammn telugusangammn thonburi times timesnewroman
		trattatello trebuchetms verdana webdings wingdings zapfdingbats zapfino`),
	AndroidFonts: lazy.Words(`sansserif sansserifthin sansseriflight sansserifmedium sansserifblack sansserifcondensed sansserifcondensedlight sansserifcondensedmedium
		sansserifsmallcaps serif serifmonospace serifbold monospace cursive casual normal roboto robotoflex robotocondensed robotostatic droidsans droidsansmono droidserif
		notosans notoserif notocoloremoji cutivemono dancingscript comingsoon carroisgothicsc sourcesanspro`),
	WindowsFonts: lazy.Words(`athelas baskervilleoldface bodonimt bookantiqua bookmanoldstyle calistomt centurygothic centuryschoolbook copperplategothic couriernext footlightmt
		franklingothic garamond gillsansmt goudyoldstyle hightowertext lucidabright lucidafax lucidahandwriting lucidasans lucidasanstypewriter palatino perpetua rockwell
		segoeuisemibold segoeuilight tahoma twcenmt arial bahnschrift calibri cambria cambriamath candara cascadiacode cascadiamono comicsansms consolas constantia corbel couriernew ebrima
		franklingothicmedium gabriola gadugi georgia impact inkfree javanesetext leelawadeeui lucidaconsole lucidasansunicode malgungothic microsofthimalaya
		microsoftjhenghei microsoftnewtailue microsoftphagspa microsoftsansserif microsofttaile microsoftyahei microsoftyibaiti mingliu mongolianbaiti msgothic mvboli
		myanmartext nirmalaui palatinolinotype segoefluenticons segoemdl2assets segoeprint segoescript segoeui segoeuihistoric segoeuiemoji segoeuisymbol segoeuivariable
		simsun sitka sylfaen symbol tahoma timesnewroman trebuchetms verdana webdings wingdings yugothic`),
}

// generics are names that every platform maps to a font of its own.
var generics = lazy.Words(`sans mono system systemfont systemui sansserif serif monospace monospaced cursive fantasy default inherit initial unset uiserif uisansserif uimonospace
	uirounded applesystem blinkmacsystemfont emoji math dialog dialoginput`)

// desktops are families that come with free desktops (GNOME, KDE and the distributions' defaults), and
// that style sheets name among the systems' own.
var desktops = lazy.Words(`adwaitamono adwaitasans bitstreamverasans bitstreamverasansmono cantarell dejavusans dejavusansmono dejavuserif droidsans droidsansmono firamono firasans freemono
	freesans freeserif gnomesans hack liberationmono liberationsans liberationserif lucida lucidagrande lucidasans nimbusroman nimbussans noto oxygen oxygensans sourcecodepro ubuntu ubuntumono
	ubuntusans ubuntusansmono urwgothic inter applesystemui notocoloremoji applecoloremoji segoeuiemoji twemojimozilla`)

// IsDesktopFont says whether a name is that of a family of free desktops.
func IsDesktopFont(name string) bool { return desktops.Has(plainName(name)) }

// icons are the families of icon fonts, which come with libraries.
var icons = lazy.Words(`antdesign cupertinoicons entypo evilicons feather fontawesome fontawesome5brand fontawesome5brands fontawesome5free fontawesome5pro
	fontawesome6brands fontawesome6free fontawesome6pro fontawesome5solid fontawesome5regular fontawesomebrands fontawesomesolid fontawesomeregular fontisto foundation
	ionicons materialcommunityicons materialdesignicons materialicons materialiconsoutlined materialiconsround materialiconsrounded materialiconssharp
	materialsymbolsoutlined materialsymbolsrounded materialsymbolssharp octicons simplelineicons themifyicons zocial`)

// foundry are endings of PostScript names of platforms' fonts.
var foundry = lazy.Regexp(`(?:psmt|ps|mt|std|pro)$`)

// plainName is a family's name without what people leave out of it.
func plainName(s string) string {
	return strings.ToLower(strings.NewReplacer(" ", "", "-", "", "_", "", "'", "", `"`, "").Replace(s))
}

// IsSystemFont says whether a name is that of a font, or a family, which a platform brings: also a
// PostScript name such as HelveticaNeue-Bold, and Apple's names of fonts with a dot in front.
func IsSystemFont(name string, of Systems) bool {
	name = strings.TrimSpace(name)
	if of&AppleFonts != 0 && strings.HasPrefix(name, ".") {
		return true
	}
	if generics.Has(plainName(name)) {
		return true
	}
	family, _, _ := strings.Cut(name, "-")
	for _, candidate := range []string{plainName(name), plainName(family), foundry.ReplaceAllString(plainName(family), "")} {
		for _, s := range []Systems{AppleFonts, AndroidFonts, WindowsFonts} {
			if of&s != 0 && families[s].Has(candidate) {
				return true
			}
		}
		if of&AndroidFonts != 0 && strings.HasPrefix(candidate, "noto") {
			return true
		}
	}
	return false
}

// IsGeneric says whether a name is one that every platform maps to a font of its own.
func IsGeneric(name string) bool { return generics.Has(plainName(name)) }

// IsIconFont says whether a name is that of an icon font.
func IsIconFont(name string) bool {
	family, _, _ := strings.Cut(name, "-")
	return icons.Has(plainName(name)) || icons.Has(plainName(family)) || icons.Has(strings.TrimSuffix(plainName(name), "regular"))
}

// FromPackage says whether a family comes with a library that the package in a folder depends on: an
// icon font with one of icons, a family with one of its name, such as @somewhere/open-sans.
func FromPackage(tree Tree, dir, name string) bool {
	plain := plainName(name)
	for dep := range dependencies(tree, dir) {
		base := plainName(dep[strings.LastIndexByte(dep, '/')+1:])
		if strings.Contains(base, "icon") && IsIconFont(name) || len(base) > 3 && strings.Contains(dep, "/") && strings.Contains(dep, "font") && strings.HasPrefix(plain, base) {
			return true
		}
	}
	return false
}

// LoadedNames are the names that an app's own code loads fonts under when it runs: the groups of
// patterns in its sources of some languages.
func LoadedNames(tree Tree, dir string, languages []*language.Language, patterns ...*lazy.Pattern) []string {
	var out []string
	for _, f := range tree.Under(dir) {
		l := language.Of(f)
		if !slices.Contains(languages, l) {
			continue
		}
		raw, ok := tree.Glance(f, LargestSource)
		if !ok {
			continue
		}
		var clean []byte
		for _, p := range patterns {
			if !language.MayMatch(p, raw) {
				continue // most sources load nothing
			}
			if clean == nil {
				clean = l.Blank(raw)
			}
			for _, m := range language.Matches(p, clean, mostLoaded) {
				for i := 2; i < len(m); i += 2 {
					if m[i] >= 0 && m[i] < m[i+1] {
						out = append(out, string(clean[m[i]:m[i+1]]))
					}
				}
			}
		}
	}
	return out
}

// mostLoaded is how many matches of one pattern in a file are looked at.
const mostLoaded = 500

// testFolder and testFile are where tests are, by the customs of the languages.
var (
	testFolder = lazy.Regexp(`(?:^|/)(?:tests?|__tests__|__mocks__|__snapshots__|specs?|androidTest|testFixtures|commonTest|integration_test|test_driver|[\w.-]*(?:UITests?|Tests?|\.Tests?))/`)
	testFile   = lazy.Regexp(`(?:_test\.(?:dart|py|go)|[.-](?:test|spec)\.[cm]?[jt]sx?|[a-z0-9]Tests?\.(?:swift|m|mm|kt|java|cs|cpp)|(?:^|/)test_\w+\.(?:py|gd))$`)
)

// IsTest says whether a source is a test's, by its path from the app's folder: what it asks for is
// not in the app, and wrong names may be its business.
func IsTest(rel string) bool { return testFolder.MatchString(rel) || testFile.MatchString(rel) }

// nameLike is what a family can be that is written out, and not put together.
var nameLike = lazy.Regexp(`^[\pL][\pL\pN .'_-]*$`)

// Foreign says whether a family can be no font that a system or a library brings, as far as that is
// known: an app that asks for it must bring it.
func Foreign(name string) bool {
	name = strings.TrimSpace(name)
	return len(name) > 1 && len(name) <= 80 && nameLike.MatchString(name) && !IsSystemFont(name, AnyFonts) && !IsDesktopFont(name) && !IsIconFont(name)
}

// AnswerForeign is the answer to a family that an app asks for and does not bring; what says where
// families are looked for.
func AnswerForeign(typed, what string, names []string) Answer {
	return Answer{Fault: UnknownFace, Message: fmt.Sprintf("nothing brings a family %q", face.Short(typed)), Cause: what, Cure: Unknown("", names)}
}

// Unloaded are those of some fonts that no code of an app loads: neither their names nor their folder are
// in its sources, and no loading call is made with a name that is put together. loader finds the calls, up
// to what is in their parentheses.
func Unloaded(tree Tree, dir string, fonts []string, languages []*language.Language, loader *lazy.Pattern) []string {
	if len(fonts) > mostLoaded {
		return nil // nobody wrote that by hand
	}
	left := map[string]bool{}
	for _, f := range fonts {
		left[f] = true
	}
	for _, file := range tree.Under(dir) {
		l := language.Of(file)
		if !slices.Contains(languages, l) || IsTest(file) || len(left) == 0 {
			continue
		}
		raw, ok := tree.Glance(file, LargestSource)
		if !ok {
			continue
		}
		clean := l.Blank(raw)
		for _, m := range loader.FindAllIndex(clean, mostLoaded) {
			if open := clean[m[1]:min(m[1]+200, len(clean))]; !quotedFont.Match(open[:endOfCall(open)]) {
				return nil // a name that is put together
			}
		}
		for f := range left {
			if strings.Contains(string(clean), path.Base(f)) {
				delete(left, f)
			}
		}
	}
	out := slices.Collect(maps.Keys(left))
	slices.Sort(out)
	return out
}

var quotedFont = lazy.Regexp(`(?i)["'][^"'\n]*\.(?:ttf|otf|ttc)["']`)

// endOfCall is where a call ends, of which the text is what follows its opening parenthesis.
func endOfCall(text []byte) int {
	depth := 1
	for i, c := range text {
		switch c {
		case '(':
			depth++
		case ')':
			if depth--; depth == 0 {
				return i
			}
		}
	}
	return len(text)
}

// Loading makes a flaw of each font that nothing loads.
func Loading(fonts []string, what, cure string) []Flaw {
	var out []Flaw
	for _, f := range fonts {
		out = append(out, Flaw{Kind: NotNamed, File: f, Subject: f, Message: fmt.Sprintf("nothing in the app loads %s", path.Base(f)), Cause: what, Cure: cure + ", or enrol it and register it, or delete it"})
	}
	return out
}
