#import <Cocoa/Cocoa.h>

/// The timetable desk in the harbour office.
@interface AppDelegate : NSObject <NSApplicationDelegate>
@property(strong) NSTextField *nextBoat;
@end

@implementation AppDelegate

- (void)applicationDidFinishLaunching:(NSNotification *)notification {
    self.nextBoat = [NSTextField labelWithString:@"07:40 Holm"];
    self.nextBoat.font = [NSFont boldSystemFontOfSize:28];
}

@end

int main(int argc, const char *argv[]) {
    return NSApplicationMain(argc, argv);
}
