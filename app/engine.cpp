#include "app/engine.h"

#include "core/model/validate.h"

namespace mossbed {

// Layered ground costs more by the patch.
double coarse_size(const Model& m) {
    const double cells = m.ground.model == "coupled" ? 250 : 500;
    return std::max(m.mesh_size, std::sqrt(std::max(net_area(m), 0.01) / cells));
}

Engine::Engine(QObject* parent) : QObject(parent) {
    qRegisterMetaType<std::shared_ptr<const Answer>>();
    qRegisterMetaType<std::vector<Problem>>();
    worker_ = std::thread([this] { work(); });
}

Engine::~Engine() {
    {
        std::lock_guard lock(mutex_);
        quit_ = true;
        stop_ = true;
        waiting_.reset();
    }
    wake_.notify_all();
    worker_.join();
}

void Engine::submit(Model model, long revision, bool coarse) {
    {
        std::lock_guard lock(mutex_);
        waiting_ = Job{std::move(model), revision, coarse};
        // A coarse frame that runs is nearly done and is shown: the hand sees steady motion. A full run gives way.
        if (running_ && !running_coarse_) stop_ = true;
    }
    set_busy(true);
    wake_.notify_all();
}

void Engine::stop() {
    std::lock_guard lock(mutex_);
    waiting_.reset();
    stop_ = true;
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
            if (quit_) return;
            job = std::move(*waiting_);
            waiting_.reset();
            running_ = true;
            running_coarse_ = job.coarse;
            stop_ = false;
        }
        run(job);
    }
}

void Engine::run(const Job& job) {
    SolveOptions options;
    options.checks = !job.coarse;
    Progress progress;
    progress.stop = &stop_;
    auto on_owner = [this](auto f) { QMetaObject::invokeMethod(this, f, Qt::QueuedConnection); };
    auto idle = [this] {
        std::lock_guard lock(mutex_);
        return !waiting_;
    };
    if (!job.coarse)
        progress.tell = [&](double share, const char* step) {
            on_owner([this, share, s = QString::fromUtf8(step)] { Q_EMIT progressed(share, s); });
        };
    try {
        if (const auto problems = problems_of(job.model); has_errors(problems)) {
            on_owner([this, problems, r = job.revision, done = idle()] {
                if (done) set_busy(false);
                Q_EMIT refused(problems, r);
            });
            return;
        }
        if (job.coarse) options.mesh_size = coarse_size(job.model);
        auto answer = solve(job.model, options, progress);
        on_owner([this, answer, r = job.revision, done = idle()] {
            if (done) set_busy(false);
            Q_EMIT answered(answer, r);
        });
    } catch (const Stopped&) {
        if (idle())
            on_owner([this] {
                set_busy(false);
                Q_EMIT stopped();
            });
    } catch (const Trouble& t) {
        on_owner([this, p = t.problem, r = job.revision, done = idle()] {
            if (done) set_busy(false);
            Q_EMIT refused({p}, r);
        });
    } catch (const std::exception& e) {
        Problem p{std::string("the solution ended unexpectedly: ") + e.what(),
                  "the model",
                  "save it and undo the last edit",
                  Severity::error,
                  {}};
        on_owner([this, p, r = job.revision, done = idle()] {
            if (done) set_busy(false);
            Q_EMIT refused({p}, r);
        });
    }
}

}  // namespace mossbed
