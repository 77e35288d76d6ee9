// A stand-in for the parts of Foundation that generated code uses, for a compiler
// that targets Apple's platforms without their headers.
typedef unsigned int uint32_t;
#define NS_ASSUME_NONNULL_BEGIN _Pragma("clang assume_nonnull begin")
#define NS_ASSUME_NONNULL_END _Pragma("clang assume_nonnull end")
#define NS_UNAVAILABLE __attribute__((unavailable))
typedef _Bool BOOL;
#define YES ((BOOL)1)
#define NO ((BOOL)0)
#define nil ((id)0)
typedef double CGFloat;
typedef struct {
    CGFloat width, height;
} NSSize;
static inline NSSize NSMakeSize(CGFloat width, CGFloat height) {
    return (NSSize){width, height};
}
typedef unsigned long NSUInteger;
typedef struct { unsigned long state; id __unsafe_unretained _Nullable *_Nullable itemsPtr; unsigned long *_Nullable mutationsPtr; unsigned long extra[5]; } NSFastEnumerationState;
NS_ASSUME_NONNULL_BEGIN
@protocol NSObject
@end
@protocol NSCopying
@end
__attribute__((objc_root_class))
@interface NSObject <NSObject>
+ (instancetype)alloc;
- (instancetype)init;
@end
@interface NSNumber : NSObject
+ (NSNumber *)numberWithDouble:(double)value;
@end
@interface NSString : NSObject <NSCopying>
+ (instancetype)stringWithFormat:(NSString *)format, ... __attribute__((format(__NSString__, 1, 2)));
- (NSString *)stringByAppendingString:(NSString *)s;
- (int)compare:(NSString *)s;
- (BOOL)isEqualToString:(NSString *)s;
@end
@interface NSArray<__covariant ObjectType> : NSObject
+ (instancetype)arrayWithObjects:(const ObjectType _Nonnull[_Nonnull])objects count:(NSUInteger)count;
+ (instancetype)arrayWithObject:(ObjectType)object;
- (NSString *)componentsJoinedByString:(NSString *)s;
- (NSArray<ObjectType> *)sortedArrayUsingSelector:(SEL)selector;
- (NSUInteger)countByEnumeratingWithState:(NSFastEnumerationState *)state objects:(id __unsafe_unretained _Nullable[_Nonnull])buffer count:(NSUInteger)length;
@property(nullable, readonly) ObjectType firstObject;
@end
@interface NSMutableArray<ObjectType> : NSArray <ObjectType>
- (void)addObject:(ObjectType)object;
@end
@interface NSDictionary<KeyType, __covariant ObjectType> : NSObject
+ (instancetype)dictionaryWithObjects:(const ObjectType _Nonnull[_Nullable])objects forKeys:(const KeyType<NSCopying> _Nonnull[_Nullable])keys count:(NSUInteger)count;
@end
@interface NSMutableSet<ObjectType> : NSObject
+ (instancetype)set;
- (BOOL)containsObject:(ObjectType)object;
- (void)addObject:(ObjectType)object;
@end
void NSLog(NSString *format, ...) __attribute__((format(__NSString__, 1, 2)));
NS_ASSUME_NONNULL_END
