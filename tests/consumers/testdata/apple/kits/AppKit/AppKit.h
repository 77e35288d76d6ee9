// A stand-in for the parts of AppKit that generated code uses.
#import <Foundation/Foundation.h>
NS_ASSUME_NONNULL_BEGIN
#ifndef CGSizeMake
typedef NSSize CGSize;
#define CGSizeMake(width, height) NSMakeSize(width, height)
#endif
typedef NSString *NSAttributedStringKey;
typedef NSString *NSFontDescriptorSystemDesign;
#define SINCE_MAC(version) __attribute__((availability(macos, introduced = version))) // as the kit's own headers say it
extern NSFontDescriptorSystemDesign const NSFontDescriptorSystemDesignDefault SINCE_MAC(10.15), NSFontDescriptorSystemDesignSerif SINCE_MAC(10.15),
    NSFontDescriptorSystemDesignMonospaced SINCE_MAC(10.15);
extern NSAttributedStringKey const NSFontAttributeName, NSKernAttributeName, NSForegroundColorAttributeName, NSStrokeWidthAttributeName,
    NSStrokeColorAttributeName, NSParagraphStyleAttributeName, NSShadowAttributeName;

@interface NSFontDescriptor : NSObject
- (nullable NSFontDescriptor *)fontDescriptorWithDesign:(NSFontDescriptorSystemDesign)design SINCE_MAC(10.15);
@end

@interface NSFont : NSObject
+ (nullable NSFont *)fontWithName:(NSString *)name size:(CGFloat)size;
+ (NSFont *)systemFontOfSize:(CGFloat)size;
+ (nullable NSFont *)fontWithDescriptor:(NSFontDescriptor *)descriptor size:(CGFloat)size;
@property(readonly) NSFontDescriptor *fontDescriptor;
@end

@interface NSFontManager : NSObject
+ (NSFontManager *)sharedFontManager;
@property(readonly) NSArray<NSString *> *availableFontFamilies;
- (nullable NSArray<NSArray *> *)availableMembersOfFontFamily:(NSString *)family;
@end

@interface NSColor : NSObject
+ (NSColor *)colorWithRed:(CGFloat)red green:(CGFloat)green blue:(CGFloat)blue alpha:(CGFloat)alpha;
@end

@interface NSMutableParagraphStyle : NSObject
@property CGFloat minimumLineHeight;
@property CGFloat maximumLineHeight;
@end
@interface NSShadow : NSObject {
@public
    CGSize _offset;
    CGFloat _blur;
    NSColor *_colour;
}
@property(nonatomic) CGSize shadowOffset;
@property(nonatomic) CGFloat shadowBlurRadius;
@property(nonatomic, retain, nullable) NSColor *shadowColor;
@end
NS_ASSUME_NONNULL_END
