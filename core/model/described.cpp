#include "core/model/described.h"

#include "core/model/fields.h"

namespace mossbed {

namespace {

std::vector<std::string> parts_of(const std::string& path) {
    std::vector<std::string> out(1);
    for (char c : path)
        if (c == '/')
            out.emplace_back();
        else
            out.back() += c;
    for (std::string& part : out)
        for (const auto& [written, meant] : {std::pair{"~1", "/"}, {"~0", "~"}})
            for (size_t i = part.find(written); i != std::string::npos; i = part.find(written, i + 1))
                part.replace(i, 2, meant);
    return out;
}

class Probe;
template <class T>
concept HasFields = requires(Probe& v, T& t) {
    fields(v, t);
};
template <class T>
concept HasId = requires(T t) {
    t.id;
};

// Goes down the path, part by part.
class Probe {
  public:
    Probe(const std::vector<std::string>& parts, size_t depth, Keys* owner, std::optional<Described>& found)
        : parts_(parts), depth_(depth), owner_(owner), found_(found) {}

    template <class T>
    void operator()(const char* key, T& t, const Facts& facts = {}) {
        if (found_ || depth_ >= parts_.size() || parts_[depth_] != key) return;
        key_ = key;
        enter(t, facts);
    }
    void choice(const char* key, std::string& s, Allowed allowed) {
        if (found_ || depth_ + 1 != parts_.size() || parts_[depth_] != key) return;
        key_ = key;
        leaf(Described::Word{
                 [&s] { return s; }, [&s](const std::string& w) { s = w; }, {allowed.begin(), allowed.end()}},
             {});
    }
    void id(std::string&) {}  // ids name things: they are changed by renaming (edit.h)
    void raw(const char*, std::string&) {}
    template <class F>
    void group(const char* key, Keys& keys, F each) {
        if (found_ || depth_ >= parts_.size() || parts_[depth_] != key) return;
        Probe inner(parts_, depth_ + 1, &keys, found_);
        each(inner);
    }

  private:
    bool is_last(size_t more = 0) const { return depth_ + 1 + more == parts_.size(); }
    template <class V>
    void leaf(V value, const Facts& facts) {
        Described d;
        d.facts = facts, d.key = parts_.back(), d.value = std::move(value), d.owner = owner_, d.owned_as = key_;
        found_ = std::move(d);
    }
    template <class T>
    void enter(T& t, const Facts& facts) {
        if constexpr (std::is_same_v<T, double> || std::is_same_v<T, std::optional<double>> ||
                      std::is_same_v<T, bool> || std::is_same_v<T, std::string>) {
            if (is_last()) leaf(&t, facts);
        } else if constexpr (HasWords<T>) {
            if (is_last())
                leaf(Described::Word{[&t] { return std::string(name_of(t)); },
                                     [&t](const std::string& w) { t = from_word<T>(w).value_or(t); },
                                     {Words<T>::all.begin(), Words<T>::all.end()}},
                     facts);
        } else if constexpr (std::is_same_v<T, Point>) {
            if (is_last(1))
                leaf(parts_.back() == "x" ? &t.x : &t.y,
                     {.label = parts_.back() == "x" ? "Position x" : "Position y", .unit = Unit::metre});
        } else if constexpr (std::is_same_v<T, std::vector<double>> || std::is_same_v<T, std::array<double, 2>>) {
            const size_t i = is_last(1) ? size_t(std::atoi(parts_.back().c_str())) : t.size();
            if (i < t.size()) leaf(&t[i], facts);
        } else if constexpr (HasFields<T>) {
            Probe inner(parts_, depth_ + 1, keys_of(t), found_);
            fields(inner, t);
        } else {
            enter_list(t);
        }
    }
    template <class T>
    void enter_list(T&) {}
    template <class T>
    void enter_list(std::optional<std::vector<T>>& list) {
        if (list) enter_list(*list);
    }
    template <class T>
    void enter_list(std::vector<T>& list) {
        if constexpr (HasFields<T> && HasId<T>) {
            for (T& t : list)
                if (depth_ + 1 < parts_.size() && t.id == parts_[depth_ + 1]) {
                    Probe inner(parts_, depth_ + 2, &t.keys, found_);
                    return fields(inner, t);
                }
        }
    }
    template <class T>
    Keys* keys_of(T& t) {
        if constexpr (requires { t.keys; })
            return &t.keys;
        else
            return owner_;  // bars: stated with the face they lie in
    }

    const std::vector<std::string>& parts_;
    size_t depth_;
    Keys* owner_;
    std::optional<Described>& found_;
    std::string key_;
};

}  // namespace

std::string escaped_part(const std::string& id) {
    std::string out;
    for (char c : id) out += c == '~' ? "~0" : c == '/' ? "~1" : std::string(1, c);
    return out;
}

std::optional<double> Described::number() const {
    std::optional<double> v;
    if (auto* d = std::get_if<double*>(&value)) v = **d;
    if (auto* o = std::get_if<std::optional<double>*>(&value)) v = **o;
    if (!v) return {};
    return facts.one_in ? 1 / *v : *v * facts.factor();
}

void Described::set_number(std::optional<double> shown) {
    std::optional<double> v;
    if (shown) v = facts.one_in ? 1 / *shown : *shown / facts.factor();
    if (auto* o = std::get_if<std::optional<double>*>(&value))
        **o = v;
    else if (auto* d = std::get_if<double*>(&value); d && v)
        **d = *v;
    else
        return;
    own();
}

bool Described::is_on() const {
    auto* b = std::get_if<bool*>(&value);
    return b && **b;
}

void Described::switch_on(bool on) {
    if (auto* b = std::get_if<bool*>(&value)) **b = on, own();
}

std::string Described::word() const {
    if (auto* s = std::get_if<std::string*>(&value)) return **s;
    if (auto* w = std::get_if<Word>(&value)) return w->get();
    return {};
}

void Described::set_word(const std::string& word) {
    if (auto* s = std::get_if<std::string*>(&value))
        **s = word;
    else if (auto* w = std::get_if<Word>(&value))
        w->set(word);
    else
        return;
    own();
}

std::vector<std::string> Described::words() const {
    auto* w = std::get_if<Word>(&value);
    return w ? w->all : std::vector<std::string>{};
}

bool Described::is_standard() const { return owner && owner->count(owned_as) == 0; }

void Described::own() {
    if (owner) (*owner)[owned_as] = "";
}

namespace {
template <class T>
std::optional<Described> field_within(T& thing, const std::string& path) {
    const std::vector<std::string> parts = parts_of(path);
    std::optional<Described> found;
    Probe probe(parts, 0, &thing.keys, found);
    fields(probe, thing);
    return found;
}
}  // namespace
std::optional<Described> field_of(Column& thing, const std::string& path) { return field_within(thing, path); }
std::optional<Described> field_of(Borehole& thing, const std::string& path) { return field_within(thing, path); }
std::optional<Described> field_of(Stratum& thing, const std::string& path) { return field_within(thing, path); }
std::optional<Described> field_of(SettingOutLine& thing, const std::string& path) { return field_within(thing, path); }
std::optional<Described> field_of(Wall& thing, const std::string& path) { return field_within(thing, path); }
std::optional<Described> field_of(Rib& thing, const std::string& path) { return field_within(thing, path); }
std::optional<Described> field_of(SlabPatch& thing, const std::string& path) { return field_within(thing, path); }
std::optional<Described> field_of(Opening& thing, const std::string& path) { return field_within(thing, path); }
std::optional<Described> field_of(GroundPatch& thing, const std::string& path) { return field_within(thing, path); }

std::optional<Described> find_field(Model& m, const std::string& path) {
    const std::vector<std::string> parts = parts_of(path);
    std::optional<Described> found;
    Probe probe(parts, 0, &m.keys, found);
    fields(probe, m);
    return found;
}

std::optional<Described> find_field(const Model& m, const std::string& path) {
    return find_field(const_cast<Model&>(m), path);  // nothing is written by finding
}

}  // namespace mossbed
