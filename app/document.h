// The model in hand with its undo stack and its file. A command is the only way the model changes: apply() for an edit
// that is done, preview() … commit() for one that follows the hand.
#pragma once
#include <QObject>
#include <QUndoStack>
#include <optional>

#include "core/codes/combination_rules.h"
#include "core/file/model_file.h"
#include "core/model/thing.h"

namespace mossbed {

QString name_of(const Thing& thing);              // "column C3"; empty for what has no name of its own
QString words_of(const Things& things);           // "column C3", "4 walls", "6 things"
QString words_of_deletion(const Things& things);  // "Delete column C3", "Delete 4 walls"

class Document : public QObject {
    Q_OBJECT
  public:
    explicit Document(QObject* parent = nullptr);

    const Model& model() const { return model_; }
    long revision() const { return revision_; }  // grows with every change of the model, previews included
    bool previewing() const { return base_.has_value(); }
    const Model& settled() const { return base_ ? *base_ : model_; }  // without what follows the hand
    QUndoStack* undo_stack() { return &stack_; }
    QString path() const { return path_; }
    QString folder() const;  // of the file; empty before it has one
    QString display_name() const;
    bool modified() const { return !stack_.isClean(); }

    // `name` says the deed ("Move column C3"). What changes nothing is no step.
    void apply(const QString& name, Model next);
    void preview(Model next);
    void commit(const QString& name);
    void cancel_preview();
    // One step; while something follows the hand, that is taken back instead.
    void undo();
    void redo();

    void start_new();  // an empty model with a permanent and an imposed case
    // Reads a file; on faults the model in hand stays and the problems come back.
    std::vector<Problem> open(const QString& path);
    // The same of a file that was read elsewhere, on a thread say; `stamp` is the file's from before it was read.
    std::vector<Problem> take(const QString& path, Loaded loaded, std::optional<FileStamp> stamp);
    // Did somebody else write, or replace, the file since it was opened or saved here? A file that is gone did not.
    bool changed_by_others() const;
    std::vector<Problem> save(const QString& path);  // empty when it went well

  Q_SIGNALS:
    void changed();   // the model, by whatever way
    void renamed();   // path or clean state
    void let_go();    // something else changes the model while a hand drags: what is dragged is put down
    void replaced();  // another document lies here now; before changed()

  private:
    friend class ModelCommand;
    void set(Model m);
    void replace(Model m);
    Model model_;
    std::optional<Model> base_;  // before the preview began
    long revision_ = 0;
    QUndoStack stack_;
    QString path_;
    std::optional<FileStamp> stamp_;  // of the file as it was read or written last
};

}  // namespace mossbed
