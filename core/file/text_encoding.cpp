#include "core/file/text_encoding.h"

#include <algorithm>
#include <array>
#include <cstdint>

namespace mossbed {
namespace {

void put(std::string& out, uint32_t c) {
    if (c < 0x80) {
        out += char(c);
    } else if (c < 0x800) {
        out += char(0xC0 | c >> 6), out += char(0x80 | (c & 0x3F));
    } else if (c < 0x10000) {
        out += char(0xE0 | c >> 12), out += char(0x80 | (c >> 6 & 0x3F)), out += char(0x80 | (c & 0x3F));
    } else {
        out += char(0xF0 | c >> 18), out += char(0x80 | (c >> 12 & 0x3F));
        out += char(0x80 | (c >> 6 & 0x3F)), out += char(0x80 | (c & 0x3F));
    }
}

std::string from_utf16(const std::string& b, size_t from, bool big) {
    std::string out;
    auto unit = [&](size_t i) {
        const auto first = uint8_t(b[i]), second = uint8_t(b[i + 1]);
        return uint32_t(big ? first << 8 | second : second << 8 | first);
    };
    for (size_t i = from; i + 1 < b.size(); i += 2) {
        uint32_t c = unit(i);
        if (c >= 0xD800 && c < 0xDC00 && i + 3 < b.size())
            if (const uint32_t low = unit(i + 2); low >= 0xDC00 && low < 0xE000)
                c = 0x10000 + ((c - 0xD800) << 10) + (low - 0xDC00), i += 2;
        put(out, c >= 0xD800 && c < 0xE000 ? 0xFFFD : c);
    }
    return out;
}

// UTF-16 without a mark: half of the bytes of western text are nought, all at even places (−1) or at odd ones (1).
int order_without_mark(const std::string& b) {
    if (b.size() < 8 || b.size() % 2) return 0;
    const size_t n = std::min<size_t>(b.size(), 400);
    size_t at[2] = {0, 0};
    for (size_t i = 0; i < n; ++i) at[i % 2] += b[i] == 0;
    const size_t many = 2 * n / 5;
    return at[1] >= many && at[0] == 0 ? 1 : at[0] >= many && at[1] == 0 ? -1 : 0;
}

// 0x80 to 0x9F of Windows-1252, which Latin-1 leaves to control signs that no text holds.
constexpr std::array<uint16_t, 32> windows = {0x20AC, 0x81,   0x201A, 0x0192, 0x201E, 0x2026, 0x2020, 0x2021,
                                              0x02C6, 0x2030, 0x0160, 0x2039, 0x0152, 0x8D,   0x017D, 0x8F,
                                              0x90,   0x2018, 0x2019, 0x201C, 0x201D, 0x2022, 0x2013, 0x2014,
                                              0x02DC, 0x2122, 0x0161, 0x203A, 0x0153, 0x9D,   0x017E, 0x0178};

}  // namespace

bool is_utf8(const std::string& t) {
    for (size_t i = 0; i < t.size();) {
        const auto c = uint8_t(t[i]);
        const int more = c < 0x80                ? 0
                         : c >= 0xC2 && c < 0xE0 ? 1
                         : c >= 0xE0 && c < 0xF0 ? 2
                         : c >= 0xF0 && c < 0xF5 ? 3
                                                 : -1;
        if (more < 0 || i + size_t(more) >= t.size()) return false;
        for (int k = 1; k <= more; ++k)
            if ((uint8_t(t[i + size_t(k)]) & 0xC0) != 0x80) return false;
        if (more >= 2) {  // neither longer than needed, nor half of a pair, nor beyond the last sign
            const auto second = uint8_t(t[i + 1]);
            if ((c == 0xE0 && second < 0xA0) || (c == 0xED && second > 0x9F) || (c == 0xF0 && second < 0x90) ||
                (c == 0xF4 && second > 0x8F))
                return false;
        }
        i += size_t(more) + 1;
    }
    return true;
}

std::string as_utf8(const std::string& b) {
    if (b.rfind("\xEF\xBB\xBF", 0) == 0) return as_utf8(b.substr(3));
    if (b.rfind("\xFF\xFE", 0) == 0) return from_utf16(b, 2, false);
    if (b.rfind("\xFE\xFF", 0) == 0) return from_utf16(b, 2, true);
    if (const int order = order_without_mark(b)) return from_utf16(b, 0, order < 0);
    if (is_utf8(b)) return b;
    std::string out;
    for (const char ch : b) {
        const auto c = uint8_t(ch);
        put(out, c >= 0x80 && c < 0xA0 ? windows[c - 0x80] : c);
    }
    return out;
}

}  // namespace mossbed
