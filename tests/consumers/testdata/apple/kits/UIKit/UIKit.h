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
// What came when, as the kit's own headers say it.
#define SINCE(ios_, tv_, watch_) __attribute__((availability(ios, introduced = ios_), availability(tvos, introduced = tv_), availability(watchos, introduced = watch_)))
#define NO_TV __attribute__((availability(ios, introduced = 11.0), availability(watchos, introduced = 5.0), availability(tvos, unavailable)))
extern UIFontTextStyle const UIFontTextStyleBody, UIFontTextStyleTitle1, UIFontTextStyleTitle2, UIFontTextStyleTitle3;
extern UIFontTextStyle const UIFontTextStyleLargeTitle NO_TV;
extern UIFontTextStyle const UIFontTextStyleCaption1, UIFontTextStyleCaption2, UIFontTextStyleFootnote, UIFontTextStyleSubheadline, UIFontTextStyleCallout;
extern UIFontDescriptorSystemDesign const UIFontDescriptorSystemDesignDefault SINCE(13.0, 13.0, 5.2), UIFontDescriptorSystemDesignSerif SINCE(13.0, 13.0, 5.2),
    UIFontDescriptorSystemDesignMonospaced SINCE(13.0, 13.0, 5.2);
extern NSAttributedStringKey const NSFontAttributeName, NSKernAttributeName, NSForegroundColorAttributeName, NSStrokeWidthAttributeName,
    NSStrokeColorAttributeName, NSParagraphStyleAttributeName, NSShadowAttributeName;

@interface UIFontDescriptor : NSObject {
@public
    NSString *_design;
}
- (nullable UIFontDescriptor *)fontDescriptorWithDesign:(UIFontDescriptorSystemDesign)design SINCE(13.0, 13.0, 5.2);
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

SINCE(11.0, 11.0, 4.0)
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
