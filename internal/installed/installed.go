// Package installed knows the families that operating systems and libraries bring: an app can ask for these without
// having them.
package installed

import (
	"strings"
	"unicode"

	"notaria/internal/lazy"
)

// Systems are the platforms whose own fonts code may name without bringing them.
type Systems int

// Platforms with fonts of their own.
const (
	Apple Systems = 1 << iota
	Android
	Windows
	Any = Apple | Android | Windows
)

// families are those that come with a platform, without spaces and hyphens, in small letters. Apple:
// developer.apple.com/fonts/system-fonts; Android: /system/etc/fonts.xml; Windows: Microsoft's
// "Windows 11 font list".
var families = map[Systems]*lazy.Set{
	Apple: lazy.Words(`academyengravedlet academyengravedletplain bodonisvtytwoitctt bodonisvtytwoositctt bodonisvtytwosctt bodoniornamentsitctt savoyeletplain stheitisc stheititc zapfdingbatsitc
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
	Android: lazy.Words(`sansserif sansserifthin sansseriflight sansserifmedium sansserifblack sansserifcondensed sansserifcondensedlight sansserifcondensedmedium
		sansserifsmallcaps serif serifmonospace serifbold monospace cursive casual normal roboto robotoflex robotocondensed robotostatic droidsans droidsansmono droidserif
		notosans notoserif notocoloremoji cutivemono dancingscript comingsoon carroisgothicsc sourcesanspro`),
	Windows: lazy.Words(`athelas baskervilleoldface bodonimt bookantiqua bookmanoldstyle calistomt centurygothic centuryschoolbook copperplategothic couriernext footlightmt
		franklingothic garamond gillsansmt goudyoldstyle hightowertext lucidabright lucidafax lucidahandwriting lucidasans lucidasanstypewriter palatino perpetua rockwell
		segoeuisemibold segoeuilight tahoma twcenmt arial bahnschrift calibri cambria cambriamath candara cascadiacode cascadiamono comicsansms consolas constantia corbel couriernew ebrima
		franklingothicmedium gabriola gadugi georgia impact inkfree javanesetext leelawadeeui lucidaconsole lucidasansunicode malgungothic microsofthimalaya
		microsoftjhenghei microsoftnewtailue microsoftphagspa microsoftsansserif microsofttaile microsoftyahei microsoftyibaiti mingliu mongolianbaiti msgothic mvboli
		myanmartext nirmalaui palatinolinotype segoefluenticons segoemdl2assets segoeprint segoescript segoeui segoeuihistoric segoeuiemoji segoeuisymbol segoeuivariable
		simsun nsimsun simhei kaiti fangsong dengxian pmingliu dfkaisb mspgothic msmincho mspmincho meiryo meiryoui yumincho yugothicui batang gulim dotum gungsuh
		arialblack sitka sylfaen symbol tahoma timesnewroman trebuchetms verdana webdings wingdings yugothic`),
}

// generics are names that every platform maps to a font of its own.
var generics = lazy.Words(`sans mono system systemfont systemui sansserif serif monospace monospaced cursive fantasy default inherit initial unset uiserif uisansserif uimonospace
	uirounded applesystem blinkmacsystemfont emoji math dialog dialoginput`)

// desktops are families that come with free desktops (GNOME, KDE and the distributions' defaults), and
// that style sheets name among the systems' own.
var desktops = lazy.Words(`adwaitamono adwaitasans bitstreamverasans bitstreamverasansmono cantarell dejavusans dejavusansmono dejavuserif droidsans droidsansmono firamono firasans freemono
	freesans freeserif gnomesans hack liberationmono liberationsans liberationserif lucida lucidagrande lucidasans nimbusroman nimbussans noto oxygen oxygensans sourcecodepro ubuntu ubuntumono
	ubuntusans ubuntusansmono urwgothic inter applesystemui notocoloremoji applecoloremoji segoeuiemoji twemojimozilla`)

// IsFamily says whether a name is that of a family which some system brings, as a whole: "Arial Black", and not
// "Roboto-Bold".
func IsFamily(name string) bool {
	plain := Plain(name)
	for _, f := range families {
		if f.Has(plain) {
			return true
		}
	}
	return desktops.Has(plain)
}

// IsDesktop says whether a name is that of a family of free desktops.
func IsDesktop(name string) bool { return desktops.Has(Plain(name)) }

// icons are the families of icon fonts, which come with libraries.
var icons = lazy.Words(`antdesign cupertinoicons entypo evilicons feather fontawesome fontawesome5brand fontawesome5brands fontawesome5free fontawesome5pro
	fontawesome6brands fontawesome6free fontawesome6pro fontawesome5solid fontawesome5regular fontawesomebrands fontawesomesolid fontawesomeregular fontisto foundation
	ionicons materialcommunityicons materialdesignicons materialicons materialiconsoutlined materialiconsround materialiconsrounded materialiconssharp
	materialsymbolsoutlined materialsymbolsrounded materialsymbolssharp octicons simplelineicons themifyicons zocial`)

// foundry are endings of PostScript names of platforms' fonts.
var foundry = lazy.Regexp(`(?:psmt|ps|mt|std|pro)$`)

// Plain is a family's name without what people leave out of it.
func Plain(s string) string {
	return strings.ToLower(strings.NewReplacer(" ", "", "-", "", "_", "", "'", "", `"`, "").Replace(s))
}

// Has says whether a name is that of a font, or a family, which a platform brings: also a
// PostScript name such as HelveticaNeue-Bold, and Apple's names of fonts with a dot in front.
func Has(name string, of Systems) bool {
	name = strings.TrimSpace(name)
	if of&Apple != 0 && strings.HasPrefix(name, ".") {
		return true
	}
	if generics.Has(Plain(name)) || localized(name) {
		return true
	}
	family, _, _ := strings.Cut(name, "-")
	for _, candidate := range []string{Plain(name), Plain(family), foundry.ReplaceAllString(Plain(family), "")} {
		for _, s := range []Systems{Apple, Android, Windows} {
			if of&s != 0 && families[s].Has(candidate) {
				return true
			}
		}
		if of&Android != 0 && strings.HasPrefix(candidate, "noto") {
			return true
		}
	}
	return false
}

// localized says whether a name is in a script of East Asia: the systems' own fonts have names in these, too, and no
// list is whole.
func localized(name string) bool {
	return strings.ContainsFunc(name, func(r rune) bool {
		return unicode.In(r, unicode.Han, unicode.Hiragana, unicode.Katakana, unicode.Hangul)
	})
}

// IsGeneric says whether a name is one that every platform maps to a font of its own.
func IsGeneric(name string) bool { return generics.Has(Plain(name)) }

// IsIcon says whether a name is that of an icon font.
func IsIcon(name string) bool {
	family, _, _ := strings.Cut(name, "-")
	return icons.Has(Plain(name)) || icons.Has(Plain(family)) || icons.Has(strings.TrimSuffix(Plain(name), "regular"))
}
