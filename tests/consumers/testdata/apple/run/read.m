// Reads a property list as the platform's own class does, and prints what stands
// under each key that is named. usage: read FILE KEY...
#import <Foundation/Foundation.h>

int main(int argc, char **argv) {
    NSAutoreleasePool *pool = [[NSAutoreleasePool alloc] init];
    NSData *data = [NSData dataWithContentsOfFile:[NSString stringWithUTF8String:argv[1]]];
    NSDictionary *list = [NSPropertyListSerialization propertyListWithData:data options:NSPropertyListImmutable format:NULL error:NULL];
    if (![list isKindOfClass:[NSDictionary class]]) {
        printf("no dictionary\n");
        return 1;
    }
    for (int i = 2; i < argc; i++) {
        id value = [list objectForKey:[NSString stringWithUTF8String:argv[i]]];
        if ([value isKindOfClass:[NSArray class]]) {
            value = [value componentsJoinedByString:@", "];
        }
        printf("%s: %s\n", argv[i], [[value description] UTF8String]);
    }
    [pool release];
    return 0;
}
