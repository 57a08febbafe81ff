#include "core/exchange/numbers.h"

#include <algorithm>
#include <charconv>
#include <cmath>

#include "core/exchange/cells.h"

namespace mossbed {
namespace {

bool is_digit(char c) { return c >= '0' && c <= '9'; }

// With plain signs: minus for the typographical ones, no blanks and apostrophes where they part groups of three.
struct Plain {
    std::string text;
    bool is_sound = true;  // groups are of three
};
Plain plain(const std::string& raw) {
    std::string s = trimmed(raw);
    for (const std::string_view minus : {"\u2212", "\u2013", "\u2012"})
        if (s.rfind(minus, 0) == 0) s = "-" + s.substr(minus.size());
    std::string out;
    bool grouped = false, sound = true;
    size_t digits = 0;  // since the last mark
    for (size_t i = 0; i < s.size();) {
        size_t mark = 0;
        for (const std::string_view m : {" ", "'", "\u2019", "\u00A0", "\u202F", "\u2009"})
            if (s.compare(i, m.size(), m) == 0) mark = m.size();
        const bool between = mark && i > 0 && is_digit(s[i - 1]) && i + mark < s.size() && is_digit(s[i + mark]);
        if (between && out.find_first_of(".,eE") == out.npos) {
            sound &= grouped ? digits == 3 : digits <= 3;
            grouped = true, digits = 0, i += mark;
            continue;
        }
        if (is_digit(s[i])) {
            ++digits;
        } else {
            if (grouped && digits != 3 && out.find_first_of(".,eE") == out.npos) sound = false;
        }
        out += s[i++];
    }
    if (grouped && out.find_first_of(".,eE") == out.npos && digits != 3) sound = false;
    return {out, sound};
}

// Sign, digits with points and commas, exponent.
struct Parts {
    std::string sign, digits, exponent;
};
std::optional<Parts> parts_of(const std::string& raw) {
    const Plain p = plain(raw);
    if (!p.is_sound || p.text.empty()) return {};
    Parts out;
    size_t i = 0;
    if (p.text[i] == '-' || p.text[i] == '+') out.sign = p.text[i++] == '-' ? "-" : "";
    while (i < p.text.size() && (is_digit(p.text[i]) || p.text[i] == '.' || p.text[i] == ','))
        out.digits += p.text[i++];
    if (std::none_of(out.digits.begin(), out.digits.end(), is_digit)) return {};
    if (i < p.text.size() && (p.text[i] == 'e' || p.text[i] == 'E')) {
        out.exponent = p.text.substr(i++);
        if (i < p.text.size() && (p.text[i] == '-' || p.text[i] == '+')) ++i;
        const size_t from = i;
        while (i < p.text.size() && is_digit(p.text[i])) ++i;
        if (i == from) return {};
    }
    if (i != p.text.size()) return {};
    return out;
}

bool are_groups(const std::string& digits, char mark) {  // 1 to 3 digits, then groups of three
    size_t from = 0;
    bool first = true;
    for (;;) {
        const size_t to = std::min(digits.find(mark, from), digits.size()), n = to - from;
        if (first ? (n == 0 || n > 3 || (n > 1 && digits[0] == '0') || (n == 1 && digits[0] == '0')) : n != 3)
            return false;
        first = false;
        if (to == digits.size()) return true;
        from = to + 1;
    }
}

// The text of digits as a number with this decimal sign; nothing where that cannot be.
std::optional<double> value_of(const Parts& p, char decimal) {
    const char mark = decimal == '.' ? ',' : '.';
    const size_t at = p.digits.find(decimal);
    std::string whole = p.digits.substr(0, at), part = at == p.digits.npos ? "" : p.digits.substr(at + 1);
    if (part.find_first_of(".,") != part.npos) return {};
    if (whole.find(mark) != whole.npos) {
        if (!are_groups(whole, mark)) return {};
        std::erase(whole, mark);
    }
    if (whole.empty() && part.empty()) return {};
    const std::string text = p.sign + (whole.empty() ? "0" : whole) + "." + (part.empty() ? "0" : part) +
                             (p.exponent.size() > 1 && p.exponent[1] == '+' ? "e" + p.exponent.substr(2) : p.exponent);
    double v = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), v);
    if (error != std::errc() || end != text.data() + text.size() || !std::isfinite(v)) return {};
    return v;
}

}  // namespace

DecimalSign says_of_habit(const std::string& text) {
    const auto p = parts_of(text);
    if (!p || p->digits.find_first_of(".,") == std::string::npos) return DecimalSign::unknown;
    const bool point = value_of(*p, '.').has_value(), comma = value_of(*p, ',').has_value();
    if (point == comma) return DecimalSign::unknown;
    return point ? DecimalSign::point : DecimalSign::comma;
}

bool reads_both_ways(const std::string& text) {
    const auto p = parts_of(text);
    if (!p) return false;
    const auto a = value_of(*p, '.'), b = value_of(*p, ',');
    return a && b && *a != *b;
}

NumberHabit habit_of(const std::vector<std::string>& texts, char separator) {
    long points = 0, commas = 0, doubtful_commas = 0, doubtful_points = 0;
    for (const std::string& t : texts) {
        const DecimalSign s = says_of_habit(t);
        points += s == DecimalSign::point, commas += s == DecimalSign::comma;
        if (s == DecimalSign::unknown && reads_both_ways(t))
            (t.find(',') != t.npos ? doubtful_commas : doubtful_points) += 1;
    }
    NumberHabit h;
    h.is_sure = points > 0 || commas > 0;
    h.is_mixed = points > 0 && commas > 0;
    if (h.is_sure)
        h.decimal = points >= commas ? DecimalSign::point : DecimalSign::comma;
    else if (doubtful_commas > 0 && doubtful_points == 0)
        h.decimal = separator == ',' ? DecimalSign::point : DecimalSign::comma;
    else
        h.is_mixed = doubtful_commas > 0 && doubtful_points > 0;
    return h;
}

std::optional<double> read_number(const std::string& text, const NumberHabit& habit) {
    const auto p = parts_of(text);
    if (!p) return {};
    if (p->digits.find_first_of(".,") == std::string::npos) return value_of(*p, '.');
    if (habit.is_mixed) {
        const DecimalSign s = says_of_habit(text);
        if (s == DecimalSign::unknown) return {};
        return value_of(*p, s == DecimalSign::point ? '.' : ',');
    }
    return value_of(*p, habit.decimal == DecimalSign::point ? '.' : ',');
}

std::optional<std::pair<std::string, std::string>> number_and_rest(const std::string& text) {
    const std::string s = trimmed(text);
    // The longest beginning that is a number.
    for (size_t n = s.size(); n > 0; --n) {
        if (!is_digit(s[n - 1]) && s[n - 1] != '.' && s[n - 1] != ',') continue;
        if (parts_of(s.substr(0, n))) return std::pair{s.substr(0, n), trimmed(s.substr(n))};
    }
    return {};
}

}  // namespace mossbed
