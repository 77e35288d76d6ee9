// A stand-in for the parts of UIKit that generated code uses.
#import <Foundation/Foundation.h>
#ifndef NS_ASSUME_NONNULL_BEGIN
#define NS_ASSUME_NONNULL_BEGIN _Pragma("clang assume_nonnull begin")
#define NS_ASSUME_NONNULL_END _Pragma("clang assume_nonnull end")
#endif
#ifndef NS_UNAVAILABLE
#define NS_UNAVAILABLE __attribute__((unavailable))
#endif
NS_ASSUME_NONNULL_BEGIN
#ifndef CGSizeMake
typedef NSSize CGSize;
#define CGSizeMake(width, height) NSMakeSize(width, height)
#endif
typedef NSString *UIFontTextStyle;
typedef NSString *NSAttributedStringKey;
typedef NSString *UIFontDescriptorSystemDesign;
extern UIFontTextStyle const UIFontTextStyleBody, UIFontTextStyleTitle1, UIFontTextStyleTitle2, UIFontTextStyleTitle3, UIFontTextStyleLargeTitle;
extern UIFontTextStyle const UIFontTextStyleCaption1, UIFontTextStyleCaption2, UIFontTextStyleFootnote, UIFontTextStyleSubheadline, UIFontTextStyleCallout;
extern UIFontDescriptorSystemDesign const UIFontDescriptorSystemDesignDefault, UIFontDescriptorSystemDesignSerif, UIFontDescriptorSystemDesignMonospaced;
extern NSAttributedStringKey const NSFontAttributeName, NSKernAttributeName, NSForegroundColorAttributeName, NSStrokeWidthAttributeName,
    NSStrokeColorAttributeName, NSParagraphStyleAttributeName, NSShadowAttributeName;

@interface UIFontDescriptor : NSObject {
@public
    NSString *_design;
}
- (nullable UIFontDescriptor *)fontDescriptorWithDesign:(UIFontDescriptorSystemDesign)design;
@end

@interface UIFont : NSObject {
@public
    NSString *_name;
    CGFloat _size;
    NSString *_style;
}
+ (nullable UIFont *)fontWithName:(NSString *)name size:(CGFloat)size;
+ (UIFont *)systemFontOfSize:(CGFloat)size;
+ (UIFont *)fontWithDescriptor:(UIFontDescriptor *)descriptor size:(CGFloat)size;
+ (NSArray<NSString *> *)familyNames;
+ (NSArray<NSString *> *)fontNamesForFamilyName:(NSString *)family;
@property(nonatomic, readonly) UIFontDescriptor *fontDescriptor;
@end

@interface UIFontMetrics : NSObject {
@public
    NSString *_style;
}
+ (instancetype)metricsForTextStyle:(UIFontTextStyle)style;
- (UIFont *)scaledFontForFont:(UIFont *)font;
- (CGFloat)scaledValueForValue:(CGFloat)value;
@end

@interface UIColor : NSObject {
@public
    CGFloat _parts[4];
}
+ (UIColor *)colorWithRed:(CGFloat)red green:(CGFloat)green blue:(CGFloat)blue alpha:(CGFloat)alpha;
@end

@interface NSMutableParagraphStyle : NSObject {
@public
    CGFloat _least, _most;
}
@property(nonatomic) CGFloat minimumLineHeight;
@property(nonatomic) CGFloat maximumLineHeight;
@end

@interface NSShadow : NSObject {
@public
    CGSize _offset;
    CGFloat _blur;
    UIColor *_colour;
}
@property(nonatomic) CGSize shadowOffset;
@property(nonatomic) CGFloat shadowBlurRadius;
@property(nonatomic, retain, nullable) UIColor *shadowColor;
@end
NS_ASSUME_NONNULL_END
