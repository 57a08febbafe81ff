// SHA-256 (FIPS 180-4) of a text, as hexadecimal digits.
#pragma once
#include <string>

namespace mossbed {
std::string sha256(const std::string& text);
}  // namespace mossbed
