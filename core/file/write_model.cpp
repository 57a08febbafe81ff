#include <nlohmann/json.hpp>

#include "core/file/model_fields.h"
#include "core/file/model_file.h"

namespace mossbed {
namespace {

using json = nlohmann::ordered_json;

template <class T>
json to_json(const T& thing);
template <class T>
json to_json(const std::vector<T>& v);
json to_json(double v) { return v == std::floor(v) && std::abs(v) < 1e15 ? json(int64_t(v)) : json(v); }
json to_json(bool v) { return v; }
json to_json(const std::string& v) { return v; }
json to_json(const Point& p) { return json::array({to_json(p.x), to_json(p.y)}); }
json to_json(Face f) { return name_of(f); }
json to_json(Direction d) { return name_of(d); }
json to_json(const Bars& b) {
    json j = json::object();
    if (b.diameter) j["diameter"] = to_json(*b.diameter);
    if (b.spacing) j["spacing"] = to_json(*b.spacing);
    return j;
}
json to_json(const LoadItem& item);
template <class T>
json to_json(const std::optional<T>& v) {
    return v ? to_json(*v) : json(nullptr);
}
template <class T>
json to_json(const std::vector<T>& v) {
    json j = json::array();
    for (const T& t : v) j.push_back(to_json(t));
    return j;
}
template <class T, size_t N>
json to_json(const std::array<T, N>& v) {
    json j = json::array();
    for (const T& t : v) j.push_back(to_json(t));
    return j;
}
json to_json(const std::map<std::string, double>& v) {
    json j = json::object();
    for (auto& [k, f] : v) j[k] = to_json(f);
    return j;
}
json to_json(const Outline& o) {
    if (auto c = std::get_if<Circle>(&o))
        return {{"circle", {{"centre", to_json(c->centre)}, {"radius", to_json(c->radius)}}}};
    if (auto r = std::get_if<Ring>(&o))
        return {{"ring", {{"centre", to_json(r->centre)}, {"inner", to_json(r->inner)}, {"outer", to_json(r->outer)}}}};
    return to_json(std::get<Polygon>(o));
}

void put_unknown(json& j, const Keys& keys) {
    for (auto& [key, text] : keys)
        if (!text.empty()) j[key] = json::parse(text);
}

json to_json(const LoadItem& item) {
    json j = json::object();
    auto put = [&](const char* key, double v) {
        if (v != 0 || item.keys.count(key)) j[key] = to_json(v);
    };
    if (auto l = std::get_if<ColumnLoad>(&item.load)) {
        j["column"] = l->column;
        j["N"] = to_json(l->N);
        put("Mx", l->Mx), put("My", l->My), put("Hx", l->Hx), put("Hy", l->Hy);
    } else if (auto l = std::get_if<PointLoad>(&item.load)) {
        j["point"] = to_json(l->at);
        j["N"] = to_json(l->N);
        put("Mx", l->Mx), put("My", l->My);
    } else if (auto l = std::get_if<LineLoad>(&item.load)) {
        j["line"] = to_json(l->path);
        j["q"] = to_json(l->q);
    } else if (auto l = std::get_if<WallLoad>(&item.load)) {
        j["wall"] = l->wall, j["q"] = to_json(l->q);
    } else if (auto l = std::get_if<RibLoad>(&item.load)) {
        j["rib"] = l->rib, j["q"] = to_json(l->q);
    } else if (auto l = std::get_if<AreaLoad>(&item.load)) {
        j["area"] = to_json(l->outline), j["p"] = to_json(l->p);
    } else if (auto l = std::get_if<SlabLoad>(&item.load)) {
        j["slab"] = true, j["p"] = to_json(l->p);
    } else if (auto l = std::get_if<Uplift>(&item.load)) {
        j["uplift_to_level"] = to_json(l->to_level);
    }
    put_unknown(j, item.keys);
    return j;
}

// Writes what differs from the default or was stated in the file; the rest stays a default.
class Writer {
  public:
    Writer(json& j, const Keys& keys) : j_(j), keys_(keys) {}
    template <class T>
    void operator()(const char* key, const T& value) {
        put(key, to_json(value));
    }
    void id(const std::string& id) { put("id", id); }
    void choice(const char* key, const std::string& value, file::Words) { put(key, value); }
    void raw(const char* key, const std::string& text) { put(key, json::parse(text)); }
    template <class F>
    void group(const char* key, const Keys& keys, F each) {
        json inner = json::object();
        Writer w(inner, keys);
        each(w);
        put_unknown(inner, keys);
        put(key, inner);
    }

  private:
    void put(const char* key, json value) {
        if (keys_.count(key) && value.is_null())
            j_[key] = nullptr;
        else
            j_[key] = std::move(value);
    }
    json& j_;
    const Keys& keys_;
};

template <class T>
json all_fields(const T& thing) {
    json j = json::object();
    Writer w(j, thing.keys);
    file::fields(w, const_cast<T&>(thing));
    return j;
}

bool always_written(const std::string& key) {  // what the schema asks for
    static const char* keys[] = {"id", "at", "outline", "path", "axis", "stratum", "bottom"};
    return std::any_of(std::begin(keys), std::end(keys), [&](const char* k) { return key == k; });
}

template <class T>
json to_json(const T& thing) {
    const json mine = all_fields(thing), standard = all_fields(T{});
    json out = json::object();
    for (auto it = mine.begin(); it != mine.end(); ++it) {
        const bool is_default = standard.contains(it.key()) && standard[it.key()] == *it;
        if (!is_default || thing.keys.count(it.key()) || always_written(it.key())) out[it.key()] = *it;
    }
    put_unknown(out, thing.keys);
    return out;
}

// As people write it: what is short stands on one line.
void print(const json& j, int depth, std::string& out) {
    const std::string flat = j.dump(-1, ' ', false, json::error_handler_t::replace);
    const bool deep = depth < 2 && j.is_object() && !j.empty();
    if (!j.is_structured() || j.empty() || (!deep && flat.size() < 110)) {
        bool quoted = false;  // a space after commas and colons, outside texts
        for (size_t i = 0; i < flat.size(); ++i) {
            out += flat[i];
            if (quoted && flat[i] == '\\')
                out += flat[++i];  // an escaped sign, a quote perhaps
            else if (flat[i] == '"')
                quoted = !quoted;
            else if (!quoted && (flat[i] == ',' || flat[i] == ':'))
                out += ' ';
        }
        return;
    }
    const std::string indent(size_t(depth) + 1, ' ');
    out += j.is_object() ? "{\n" : "[\n";
    bool first = true;
    for (auto it = j.begin(); it != j.end(); ++it) {
        if (!first) out += ",\n";
        first = false;
        out += indent;
        if (j.is_object()) out += json(it.key()).dump() + ": ";
        print(*it, depth + 1, out);
    }
    out += "\n" + std::string(size_t(depth), ' ') + (j.is_object() ? "}" : "]");
}

}  // namespace

std::string write_model(const Model& model) {
    json j = json::object();
    j["format"] = "mossbed";
    j["version"] = 1;
    const json rest = to_json(model);
    for (auto it = rest.begin(); it != rest.end(); ++it) j[it.key()] = *it;
    std::string text;
    print(j, 0, text);
    return text + "\n";
}

void save_model(const Model& model, const std::string& path) { save_text(write_model(model), path); }

}  // namespace mossbed
