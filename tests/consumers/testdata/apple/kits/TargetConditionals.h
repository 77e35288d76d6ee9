// A stand-in: the test says with -D which platform it is.
#ifndef TARGET_OS_OSX
#define TARGET_OS_OSX 0
#endif
