// One number, word or switch of a model, found by its path, with what is known of it. Paths are the keys of the file
// with ids in place of indices (a slash in an id is written ~1, as in RFC 6901): "slab/thickness", "columns/C15/angle",
// "columns/C15/at/x", "steel/base/top_x/diameter".
#pragma once
#include <functional>
#include <variant>

#include "core/model/facts.h"
#include "core/model/model.h"

namespace mossbed {

class Described {
  public:
    Facts facts;
    std::string key;

    // As people see it: in the unit of the screen, slopes as 1 in so many. Nothing where it is not given.
    std::optional<double> number() const;
    // Nothing is taken away where a value may be missing; elsewhere it leaves the value as it is.
    void set_number(std::optional<double> shown);
    bool may_be_empty() const { return std::holds_alternative<std::optional<double>*>(value); }
    bool is_on() const;
    void switch_on(bool on);
    std::string word() const;
    void set_word(const std::string& word);
    std::vector<std::string> words() const;  // that it can be
    bool is_standard() const;                // a default that nobody owns
    bool is_number() const { return value.index() == 1 || value.index() == 2; }

    struct Word {
        std::function<std::string()> get;
        std::function<void(const std::string&)> set;
        std::vector<std::string> all;
    };
    std::variant<std::monostate, double*, std::optional<double>*, bool*, std::string*, Word> value;
    Keys* owner = nullptr;  // of the object that it belongs to: keys that the engineer owns
    std::string owned_as;   // its name there

  private:
    void own();
};

// A part of a path from an id, which may hold a slash.
std::string escaped_part(const std::string& id);

// The same within one thing: "angle" of a column.
std::optional<Described> field_of(Column& thing, const std::string& path);
std::optional<Described> field_of(Borehole& thing, const std::string& path);
std::optional<Described> field_of(Stratum& thing, const std::string& path);
std::optional<Described> field_of(SettingOutLine& thing, const std::string& path);
std::optional<Described> field_of(Wall& thing, const std::string& path);
std::optional<Described> field_of(Rib& thing, const std::string& path);
std::optional<Described> field_of(SlabPatch& thing, const std::string& path);
std::optional<Described> field_of(Opening& thing, const std::string& path);
std::optional<Described> field_of(GroundPatch& thing, const std::string& path);

// Points into the model, which must outlive it; nothing where the model has no such field.
std::optional<Described> find_field(Model& model, const std::string& path);
std::optional<Described> find_field(const Model& model, const std::string& path);  // for looking at

}  // namespace mossbed
