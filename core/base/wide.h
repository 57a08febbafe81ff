// The same loop for plain and for wide registers, chosen when the program starts: before the thread sanitizer is ready
// to be called, so without it then. By what the processor can do (AVX2, FMA): "arch=haswell" would ask whether it is a
// Haswell, and no later one is.
#pragma once

#if defined(__x86_64__) && defined(__GNUC__) && !defined(__clang__) && !defined(__SANITIZE_THREAD__)
#define MOSSBED_WIDE __attribute__((target_clones("arch=x86-64-v3", "default")))
#else
#define MOSSBED_WIDE
#endif

namespace mossbed {

using Floats [[gnu::vector_size(32)]] = float;  // a register of eight

// Loops that are written out for each kind of registers, the widest that a machine has: AVX2 with FMA (eight numbers in
// single precision), AVX-512 (sixteen).
enum class Registers { plain, eights, sixteens };
inline Registers widest_registers() {
#if defined(__x86_64__) && defined(__GNUC__)
    if (__builtin_cpu_supports("avx512f")) return Registers::sixteens;
    if (__builtin_cpu_supports("avx2") && __builtin_cpu_supports("fma")) return Registers::eights;
#endif
    return Registers::plain;
}

}  // namespace mossbed
