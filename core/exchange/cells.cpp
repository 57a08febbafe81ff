#include "core/exchange/cells.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>

namespace mossbed {

const std::string& CellRow::at(size_t k) const {
    static const std::string none;
    return k < cells.size() ? cells[k] : none;
}
bool CellRow::is_empty() const {
    return std::all_of(cells.begin(), cells.end(), [](const std::string& c) { return c.empty(); });
}

std::string trimmed(const std::string& s) {
    static constexpr std::array blanks{" ", "\t", "\r", "\n", "\u00A0", "\u202F", "\u2009", "\uFEFF"};
    size_t from = 0, to = s.size();
    for (bool again = true; again;) {
        again = false;
        for (const std::string_view b : blanks) {
            if (to - from >= b.size() && s.compare(from, b.size(), b) == 0) from += b.size(), again = true;
            if (to - from >= b.size() && s.compare(to - b.size(), b.size(), b) == 0) to -= b.size(), again = true;
        }
    }
    return s.substr(from, to - from);
}

std::string lower(std::string s) {
    std::transform(s.begin(), s.end(), s.begin(), [](char c) { return c >= 'A' && c <= 'Z' ? char(c + 32) : c; });
    return s;
}

namespace {

// How many lines have the number of separators that most lines have, those without any left aside; then how many
// separators that is.
std::pair<int, int> agreement(const std::vector<std::string>& lines, char separator) {
    std::map<int, int> of_count;
    for (const std::string& line : lines) {
        bool quoted = false;
        int n = 0;
        for (char c : line) {
            if (c == '"') quoted = !quoted;
            if (c == separator && !quoted) ++n;
        }
        if (n) ++of_count[n];
    }
    std::pair<int, int> best;
    for (auto [n, lines_of] : of_count) best = std::max(best, {lines_of, n});
    return best;
}

char separator_of(const std::string& text) {
    std::vector<std::string> lines;
    for (size_t at = 0; at < text.size() && lines.size() < 200;) {
        const size_t end = std::min(text.find('\n', at), text.size());
        if (std::string line = text.substr(at, end - at); !trimmed(line).empty() || line.find('\t') != line.npos)
            lines.push_back(std::move(line));
        at = end + 1;
    }
    // A comma may stand in numbers and texts, so the others go first where half of the lines have them.
    for (char s : {'\t', ';'})
        if (const auto [agree, n] = agreement(lines, s); 2 * agree >= int(lines.size()) && n > 0) return s;
    char best = ',';
    std::pair<int, int> most = agreement(lines, ',');
    for (char s : {';', '\t'})
        if (const auto a = agreement(lines, s); a > most) most = a, best = s;
    return best;
}

class CellReader {
  public:
    CellReader(const std::string& text, CellTable& out) : text_(text), out_(out) {}
    void read() {
        while (at_ < text_.size()) row();
    }

  private:
    bool ended() const { return at_ >= text_.size(); }
    bool at_line_end() const { return ended() || text_[at_] == '\n' || text_[at_] == '\r'; }
    void row() {
        CellRow row;
        row.line = line_;
        for (;;) {
            row.cells.push_back(cell(row));
            for (char& c : row.cells.back())  // control signs that no text holds
                if (c >= 0 && c < ' ') c = ' ';
            if (at_line_end()) break;
            ++at_;  // the separator
        }
        if (!ended() && text_[at_] == '\r') ++at_;
        if (!ended() && text_[at_] == '\n') ++at_;
        ++line_;
        out_.rows.push_back(std::move(row));
    }
    std::string cell(CellRow& row) {
        const size_t start = at_;
        while (!at_line_end() && text_[at_] == ' ') ++at_;
        if (!ended() && text_[at_] == '"') {
            if (auto quoted = quoted_cell(row)) return trimmed(*quoted);
        }
        at_ = start;
        while (!at_line_end() && text_[at_] != out_.separator) ++at_;
        return trimmed(text_.substr(start, at_ - start));
    }
    // Nothing where the mark is not closed, or text follows it: then it is a mark like any other ("16" for 16 inches).
    std::optional<std::string> quoted_cell(CellRow& row) {
        std::string cell;
        int lines = 0, separators = 0;
        for (size_t i = at_ + 1; i < text_.size(); ++i) {
            if (text_[i] == '"' && i + 1 < text_.size() && text_[i + 1] == '"') {
                cell += text_[i++];
            } else if (text_[i] == '"') {
                size_t next = i + 1;
                while (next < text_.size() && text_[next] == ' ') ++next;
                if (next < text_.size() && text_[next] != out_.separator && text_[next] != '\n' && text_[next] != '\r')
                    return {};
                at_ = next, line_ += lines;
                return cell;
            } else {
                separators += text_[i] == out_.separator;
                lines += text_[i] == '\n';
                if (lines > 20 || (lines > 0 && separators > 2)) break;  // no note is like that: rows are
                cell += text_[i] == '\n' || text_[i] == '\r' ? ' ' : text_[i];
            }
        }
        row.is_broken = true;
        out_.problems.push_back({"a quotation mark is opened and not closed",
                                 fmt::format("line {}", row.line),
                                 "close it; a mark inside a text is doubled",
                                 Severity::error,
                                 {}});
        return {};
    }

    const std::string& text_;
    CellTable& out_;
    size_t at_ = 0;
    int line_ = 1;
};

}  // namespace

CellTable read_cells(const std::string& text) {
    CellTable out;
    const bool says = lower(text.substr(0, 4)) == "sep=" && text.size() > 4;
    out.separator = says ? text[4] : separator_of(text);
    CellReader(text, out).read();
    if (says && !out.rows.empty()) out.rows.front().cells.clear();
    out.ends_openly = !text.empty() && text.back() != '\n' && text.back() != '\r';
    return out;
}

}  // namespace mossbed
