#include "app/document.h"

#include <QFileInfo>
#include <QUndoCommand>
#include <map>

namespace mossbed {

class ModelCommand : public QUndoCommand {
  public:
    ModelCommand(Document* d, const QString& name, Model before, Model after)
        : QUndoCommand(name), d_(d), before_(std::move(before)), after_(std::move(after)) {}
    void undo() override { d_->set(before_); }
    void redo() override { d_->set(after_); }

  private:
    Document* d_;
    Model before_, after_;
};

Document::Document(QObject* parent) : QObject(parent), model_(new_model()) {
    connect(&stack_, &QUndoStack::cleanChanged, this, &Document::renamed);
}

namespace {
using OneAndMany = std::pair<QString, QString>;
const std::map<ThingKind, OneAndMany>& words_of_kinds() {
    static const std::map<ThingKind, OneAndMany> names{
        {ThingKind::column, {"column", "columns"}},
        {ThingKind::wall, {"wall", "walls"}},
        {ThingKind::rib, {"rib", "ribs"}},
        {ThingKind::opening, {"opening", "openings"}},
        {ThingKind::patch, {"patch", "patches"}},
        {ThingKind::ground_patch, {"ground patch", "ground patches"}},
        {ThingKind::setting_out, {"setting-out line", "setting-out lines"}},
        {ThingKind::borehole, {"borehole", "boreholes"}},
        {ThingKind::load, {"load", "loads"}},
        {ThingKind::extra_bars, {"extra bars", "sets of extra bars"}},
        {ThingKind::links, {"links", "areas of links"}},
        {ThingKind::strip, {"strip", "strips"}}};
    return names;
}
}  // namespace

QString name_of(const Thing& t) {
    const auto it = words_of_kinds().find(t.kind);
    return it == words_of_kinds().end() ? QString() : it->second.first + " " + QString::fromStdString(t.id);
}

QString words_of(const Things& things) {
    const auto& names = words_of_kinds();
    std::map<ThingKind, int> count;
    for (const Thing& t : things) ++count[t.kind];
    if (count.size() != 1 || !names.count(things.begin()->kind)) return QString("%1 things").arg(things.size());
    const auto& [one, many] = names.at(things.begin()->kind);
    return things.size() == 1 ? name_of(*things.begin()) : QString("%1 %2").arg(things.size()).arg(many);
}

QString words_of_deletion(const Things& things) { return "Delete " + words_of(things); }

QString Document::folder() const { return path_.isEmpty() ? QString() : QFileInfo(path_).absolutePath(); }

QString Document::display_name() const {
    if (!model_.title.empty()) return QString::fromStdString(model_.title);
    return path_.isEmpty() ? "New raft" : QFileInfo(path_).completeBaseName();
}

void Document::set(Model m) {
    model_ = std::move(m);
    ++revision_;
    Q_EMIT changed();
}

void Document::apply(const QString& name, Model next) {
    if (base_) cancel_preview(), Q_EMIT let_go();
    if (next == model_) return;
    if (differs_for_rules(model_, next)) remake_combinations(next);
    stack_.push(new ModelCommand(this, name, model_, std::move(next)));
}

void Document::preview(Model next) {
    if (!base_) base_ = model_;
    if (next == model_) return;
    set(std::move(next));
}

void Document::commit(const QString& name) {
    if (!base_) return;
    Model before = std::move(*base_), after = model_;
    base_.reset();
    if (before == after) {
        Q_EMIT changed();  // the preview ended where it began: views ask for the full answer again
        return;
    }
    stack_.push(new ModelCommand(this, name, std::move(before), std::move(after)));
}

void Document::cancel_preview() {
    if (!base_) return;
    Model before = std::move(*base_);
    base_.reset();
    set(std::move(before));
}

void Document::undo() {
    if (!base_) return stack_.undo();
    cancel_preview();
    Q_EMIT let_go();
}

void Document::redo() {
    if (!base_) return stack_.redo();
    cancel_preview();
    Q_EMIT let_go();
}

void Document::replace(Model m) {
    base_.reset();
    Q_EMIT let_go();
    stack_.clear();
    Q_EMIT replaced();
    set(std::move(m));
    Q_EMIT renamed();
}

void Document::start_new() {
    path_.clear();
    stamp_.reset();
    replace(new_model());
}

std::vector<Problem> Document::open(const QString& path) {
    const auto stamp = stamp_of(path.toStdString());
    return take(path, load_model(path.toStdString()), stamp);
}

bool Document::changed_by_others() const {
    if (path_.isEmpty()) return false;
    const auto now = stamp_of(path_.toStdString());
    return now && now != stamp_;
}

std::vector<Problem> Document::take(const QString& path, Loaded l, std::optional<FileStamp> stamp) {
    if (!l.model) return l.problems;
    path_ = path;
    stamp_ = stamp;
    replace(std::move(*l.model));
    return l.problems;
}

std::vector<Problem> Document::save(const QString& path) {
    if (base_) cancel_preview(), Q_EMIT let_go();  // what follows a hand is no part of the file
    try {
        save_model(model_, path.toStdString());
    } catch (const Trouble& t) {
        return {t.problem};
    }
    path_ = path;
    stamp_ = stamp_of(path.toStdString());
    stack_.setClean();
    Q_EMIT renamed();
    return {};
}

}  // namespace mossbed
