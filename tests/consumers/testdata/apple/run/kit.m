// A UIKit that knows just the faces in the variable FACES, which the test fills with
// the PostScript names that another program read from the files, and a program
// that asks the generated class for its fonts.
#import "AppType.h"
#include <stdlib.h>

#define NAME(x) NSString *const x = @ #x
NAME(UIFontTextStyleBody); NAME(UIFontTextStyleTitle1); NAME(UIFontTextStyleTitle2); NAME(UIFontTextStyleTitle3); NAME(UIFontTextStyleLargeTitle);
NAME(UIFontTextStyleCaption1); NAME(UIFontTextStyleCaption2); NAME(UIFontTextStyleFootnote); NAME(UIFontTextStyleSubheadline); NAME(UIFontTextStyleCallout);
NAME(UIFontDescriptorSystemDesignDefault); NAME(UIFontDescriptorSystemDesignSerif); NAME(UIFontDescriptorSystemDesignMonospaced);
NAME(NSFontAttributeName); NAME(NSKernAttributeName); NAME(NSForegroundColorAttributeName); NAME(NSStrokeWidthAttributeName);
NAME(NSStrokeColorAttributeName); NAME(NSParagraphStyleAttributeName); NAME(NSShadowAttributeName);

@implementation UIFontDescriptor
- (UIFontDescriptor *)fontDescriptorWithDesign:(NSString *)wanted {
    UIFontDescriptor *d = [[UIFontDescriptor alloc] init];
    d->_design = wanted;
    return d;
}
@end

static NSArray *faces(void) {
    return [[NSString stringWithUTF8String:getenv("FACES")] componentsSeparatedByString:@"\n"];
}

@implementation UIFont
+ (UIFont *)make:(NSString *)name size:(CGFloat)size {
    UIFont *f = [[UIFont alloc] init];
    f->_name = [name copy];
    f->_size = size;
    return f;
}
+ (UIFont *)fontWithName:(NSString *)name size:(CGFloat)size {
    return [faces() containsObject:name] ? [self make:name size:size] : nil;
}
+ (UIFont *)systemFontOfSize:(CGFloat)size {
    return [self make:@"system" size:size];
}
+ (UIFont *)fontWithDescriptor:(UIFontDescriptor *)descriptor size:(CGFloat)size {
    return [self make:descriptor->_design size:size];
}
+ (NSArray *)familyNames {
    return [NSArray arrayWithObject:@"All"];
}
+ (NSArray *)fontNamesForFamilyName:(NSString *)family {
    return faces();
}
- (UIFontDescriptor *)fontDescriptor {
    return [[UIFontDescriptor alloc] init];
}
- (NSString *)description {
    return [NSString stringWithFormat:@"%@ %g %@", _name, _size, _style == nil ? @"fixed" : _style];
}
@end

@implementation UIFontMetrics
+ (instancetype)metricsForTextStyle:(NSString *)style {
    UIFontMetrics *m = [[UIFontMetrics alloc] init];
    m->_style = style;
    return m;
}
- (UIFont *)scaledFontForFont:(UIFont *)font {
    font->_style = _style;
    return font;
}
- (CGFloat)scaledValueForValue:(CGFloat)value {
    return value;
}
@end

@implementation UIColor
+ (UIColor *)colorWithRed:(CGFloat)red green:(CGFloat)green blue:(CGFloat)blue alpha:(CGFloat)alpha {
    UIColor *c = [[UIColor alloc] init];
    c->_parts[0] = red, c->_parts[1] = green, c->_parts[2] = blue, c->_parts[3] = alpha;
    return c;
}
- (NSString *)description {
    return [NSString stringWithFormat:@"%.3f %.3f %.3f %.3f", _parts[0], _parts[1], _parts[2], _parts[3]];
}
@end

@implementation NSMutableParagraphStyle
@synthesize minimumLineHeight = _least, maximumLineHeight = _most;
- (NSString *)description {
    return [NSString stringWithFormat:@"lines %g to %g", _least, _most];
}
@end

@implementation NSShadow
@synthesize shadowOffset = _offset, shadowBlurRadius = _blur, shadowColor = _colour;
- (NSString *)description {
    return [NSString stringWithFormat:@"shadow %g %g %g, %@", _offset.width, _offset.height, _blur, _colour];
}
@end

static void say(NSString *s) {
    printf("%s\n", [s UTF8String]);
}

int main(int argc, char **argv) {
    NSAutoreleasePool *pool = [[NSAutoreleasePool alloc] init];
    for (int i = 1; i < argc; i++) {
        NSString *role = [NSString stringWithUTF8String:argv[i]];
        say([NSString stringWithFormat:@"%@: %@", role, [AppType performSelector:NSSelectorFromString(role)]]);
        NSDictionary *all = [AppType performSelector:NSSelectorFromString([role stringByAppendingString:@"Attributes"])];
        for (NSString *key in [[all allKeys] sortedArrayUsingSelector:@selector(compare:)]) {
            say([NSString stringWithFormat:@"  %@ = %@", key, [all objectForKey:key]]);
        }
    }
    say([AppType report]);
    [pool release];
    return 0;
}
