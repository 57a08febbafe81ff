#include "app/engine.h"

#include "core/validate/validate.h"

namespace mossbed {

Engine::Engine(QObject* parent) : QObject(parent) {
    qRegisterMetaType<std::shared_ptr<const Answer>>();
    qRegisterMetaType<std::vector<Problem>>();
    worker_ = std::thread([this] { work(); });
}

Engine::~Engine() {
    end_within(std::chrono::milliseconds(0));
    worker_.join();
}

bool Engine::end_within(std::chrono::milliseconds patience) {
    std::unique_lock lock(mutex_);
    quit_ = true;
    stop_ = true;
    waiting_.reset();
    wake_.notify_all();
    return wake_.wait_for(lock, patience, [this] { return ended_; });
}

void Engine::submit(Model model, long revision, bool coarse) {
    wanted_ = ++serial_;
    {
        std::lock_guard lock(mutex_);
        waiting_ = Job{std::move(model), revision, wanted_, coarse};
        // A coarse frame that runs is nearly done and is shown: the hand sees steady motion. A full run gives way.
        if (running_ && !running_coarse_) stop_ = true;
    }
    set_busy(true);
    wake_.notify_all();
}

void Engine::stop() {
    {
        std::lock_guard lock(mutex_);
        waiting_.reset();
        stop_ = true;
    }
    wanted_ = 0, unheard_ = serial_;
    set_busy(false);
}

void Engine::set_busy(bool b) {
    if (busy_ == b) return;
    busy_ = b;
    Q_EMIT busy_changed(b);
}

void Engine::work() {
    for (;;) {
        Job job;
        {
            std::unique_lock lock(mutex_);
            running_ = false;
            wake_.wait(lock, [this] { return quit_ || waiting_; });
            if (quit_) {
                ended_ = true;
                wake_.notify_all();
                return;
            }
            job = std::move(*waiting_);
            waiting_.reset();
            running_ = true;
            running_coarse_ = job.coarse;
            stop_ = false;
        }
        run(job);
    }
}

void Engine::tell(const Job& job, std::function<void()> what, bool is_last) {
    QMetaObject::invokeMethod(
        this,
        [this, serial = job.serial, is_last, what = std::move(what)] {
            if (serial <= unheard_) return;
            what();
            if (is_last && serial == wanted_) set_busy(false);
        },
        Qt::QueuedConnection);
}

// A coarse job, or the beginning of a full one: which keeps it to itself where it says nothing new beside a full
// answer.
void Engine::look(const Job& job, const Progress& progress) {
    SolveOptions options;
    options.checks = false, options.mesh_size = size_for_a_look(job.model);
    const Answer* before = last_coarse_ ? last_coarse_.get() : last_full_.get();
    const auto answer = old_answers_.watch_over(solve(job.model, options, before, progress));
    const bool is_known = last_coarse_ && last_coarse_->stages.solution == answer->stages.solution;
    last_coarse_ = answer;
    if (!job.coarse && full_is_shown_ && is_known) return;
    full_is_shown_ = false;
    tell(
        job, [this, answer, r = job.revision] { Q_EMIT answered(answer, r); }, job.coarse);
}

void Engine::answer_whole(const Job& job, const Progress& progress) {
    const auto answer = old_answers_.watch_over(solve(job.model, {}, last_full_.get(), progress));
    last_full_ = answer, full_is_shown_ = true;
    tell(job, [this, answer, r = job.revision] { Q_EMIT answered(answer, r); });
}

void Engine::run(const Job& job) {
    Progress silent, progress;
    silent.stop = progress.stop = &stop_;
    progress.tell = [&](double share, const char* step) {
        QMetaObject::invokeMethod(
            this,
            [this, share, s = QString::fromUtf8(step), serial = job.serial] {
                if (serial > unheard_) Q_EMIT progressed(share, s);
            },
            Qt::QueuedConnection);
    };
    auto refuse = [&](std::vector<Problem> problems) {
        tell(job, [this, problems = std::move(problems), r = job.revision] { Q_EMIT refused(problems, r); });
    };
    try {
        if (auto problems = problems_of(job.model); has_errors(problems)) return refuse(std::move(problems));
        if (job.coarse) return look(job, silent);
        if (takes_long(job.model)) {
            progress.report(0, "quick look");
            try {
                look(job, silent);
            } catch (const Trouble&) {  // of the coarse mesh; the whole answer says whether there is any
            }
        }
        answer_whole(job, progress);
    } catch (const Stopped&) {
        tell(job, [] {});
    } catch (const Trouble& t) {
        refuse({t.problem});
    } catch (const std::exception& e) {
        refuse({{std::string("the solution ended unexpectedly: ") + e.what(),
                 "the model",
                 "save it and undo the last edit",
                 Severity::error,
                 {}}});
    }
}

}  // namespace mossbed
