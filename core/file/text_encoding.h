// Text as other programs write it, made UTF-8: with or without a mark, UTF-16 of either order, likewise, else
// Windows-1252, of which Latin-1 is a part.
#pragma once
#include <string>

namespace mossbed {

bool is_utf8(const std::string& text);          // well formed (RFC 3629)
std::string as_utf8(const std::string& bytes);  // without a byte-order mark; never throws

}  // namespace mossbed
