// The same loop for plain and for wide registers, chosen when the program starts: before the thread sanitizer is ready
// to be called, so without it then.
#pragma once

#if defined(__x86_64__) && defined(__GNUC__) && !defined(__clang__) && !defined(__SANITIZE_THREAD__)
#define MOSSBED_WIDE __attribute__((target_clones("arch=haswell", "default")))
#else
#define MOSSBED_WIDE
#endif
