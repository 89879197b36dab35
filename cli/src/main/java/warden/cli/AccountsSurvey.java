package warden.cli;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.Supplier;
import warden.core.document.DisplayText;
import warden.core.survey.SurveyException;
import warden.core.survey.SurveyHeader;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyLine.Outcome;
import warden.core.survey.SurveyReader;
import warden.gather.aws.OrganizationSurvey;
import warden.gather.aws.OrganizationSurvey.Listed;
import warden.gather.aws.OrganizationSurvey.Member;
import warden.gather.aws.OrganizationSurvey.Taking;
import warden.gather.live.LiveException;
import warden.gather.live.ReadingLog;
import warden.gather.live.UnfinishedSurvey;
import warden.report.AccountsSummary;
import warden.report.AccountsSummary.State;

/** Takes the surveys of many accounts side by side, each into a file of one folder, whole or not there. */
final class AccountsSurvey {
    private final OrganizationSurvey surveys;
    private final AccountsFolder folder;
    private final boolean resumes;
    private final Supplier<String> takenAt;
    private final AccountsProgress progress;

    /**
     * Makes ready.
     *
     * @param takenAt what a survey's header says of the time
     */
    AccountsSurvey(
            OrganizationSurvey surveys,
            AccountsFolder folder,
            boolean resumes,
            Supplier<String> takenAt,
            OutputOptions options,
            boolean isTerminal) {
        this.surveys = surveys;
        this.folder = folder;
        this.resumes = resumes;
        this.takenAt = takenAt;
        this.progress = new AccountsProgress(options, isTerminal);
    }

    /** Takes them all; returns what came of each, in the order of their numbers. */
    List<AccountsSummary.Account> take(Listed listed, int sideBySide) {
        folder.begin(listed);
        progress.expect(listed.members().size());
        ExecutorService threads = Executors.newFixedThreadPool(
                Math.max(1, Math.min(sideBySide, listed.members().size())), work -> {
                    Thread thread = new Thread(work, "account");
                    thread.setDaemon(true);
                    return thread;
                });
        List<Future<AccountsSummary.Account>> all = listed.members().stream()
                .map(member -> threads.submit(() -> {
                    AccountsSummary.Account taken = take(member);
                    progress.done();
                    return taken;
                }))
                .toList();
        try {
            List<AccountsSummary.Account> taken = new ArrayList<>();
            for (Future<AccountsSummary.Account> each : all) {
                taken.add(each.get());
            }
            taken.sort(Comparator.comparing(AccountsSummary.Account::number));
            return taken;
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
            throw new InputException(ExitCode.UNREACHABLE, "stopped; --resume goes on with what is missing");
        } catch (ExecutionException failed) {
            if (failed.getCause() instanceof InputException said) {
                throw said;
            }
            throw new IllegalStateException(failed.getCause());
        } finally {
            threads.shutdownNow();
            progress.end();
        }
    }

    private AccountsSummary.Account take(Member member) {
        Path target = folder.file(member.account());
        Optional<AccountsSummary.Account> before = resumes ? whole(member, target) : Optional.empty();
        if (before.isPresent()) {
            return before.get();
        }
        GrowingFile file = GrowingFile.at(target);
        Optional<UnfinishedSurvey> earlier = resumes && file.begun() ? Optional.of(file.reopened()) : Optional.empty();
        try {
            AccountsSummary.Account taken;
            try (Writer out = file.open(earlier.isPresent())) {
                ReadingLog log =
                        new ReadingLog(out, earlier.map(UnfinishedSurvey::known).orElse(Set.of()), progress.ofOne());
                int known = earlier.map(each -> each.known().size()).orElse(0);
                State state = take(member, target, log, earlier.isPresent());
                taken = account(member, state, known + log.count(), log.refused());
            }
            file.finish();
            return taken;
        } catch (UncheckedIOException | IOException failed) {
            throw new InputException(
                    ExitCode.WRONG_COMMAND,
                    target + ": cannot be written (" + failed.getMessage()
                            + "); what was read so far is kept, go on with --resume");
        }
    }

    private State take(Member member, Path target, ReadingLog log, boolean isBegun) throws IOException {
        try (Taking taking = surveys.survey(member, log)) {
            Optional<List<SurveyLine>> refusal = taking.refusal();
            if (refusal.isPresent()) {
                return refused(member, target, log, isBegun, refusal.get());
            }
            try {
                SurveyHeader header = taking.begin(target.toString(), takenAt.get());
                if (!isBegun) {
                    log.header(header);
                }
            } catch (LiveException unreachable) {
                return refused(member, target, log, isBegun, taking.unreachable(unreachable));
            }
            taking.run();
            boolean isWhole = log.refused().stream().allMatch(AccountsSurvey::isBeyondLimit);
            return isWhole ? State.READ : State.IN_PART;
        }
    }

    private State refused(Member member, Path target, ReadingLog log, boolean isBegun, List<SurveyLine> lines)
            throws IOException {
        if (!isBegun) {
            log.header(new SurveyHeader(target.toString(), "aws", member.account(), takenAt.get(), ""));
        }
        lines.forEach(line -> log.keep(List.of(line)));
        return State.REFUSED;
    }

    private static boolean isBeyondLimit(SurveyLine line) {
        return line.obstacle().startsWith(ReadingLog.NOT_ASKED);
    }

    /** Returns what an earlier run came to; absent where something of it is missing. */
    private Optional<AccountsSummary.Account> whole(Member member, Path target) {
        if (!GrowingFile.hasContent(target) || GrowingFile.hasContent(GrowingFile.besides(target))) {
            return Optional.empty();
        }
        List<SurveyLine> unread = new ArrayList<>();
        AtomicInteger count = new AtomicInteger();
        try (InputStream in = Files.newInputStream(target)) {
            SurveyReader.read(in, target.toString(), line -> {
                count.incrementAndGet();
                if (line.outcome() == Outcome.UNREAD && !isBeyondLimit(line)) {
                    unread.add(line);
                }
            });
        } catch (SurveyException broken) {
            throw new InputException(ExitCode.WRONG_INPUT, broken.getMessage());
        } catch (IOException unreadable) {
            throw new InputException(
                    ExitCode.WRONG_INPUT, target + ": cannot be read (" + TargetFile.why(unreadable) + ")");
        }
        return unread.isEmpty() ? Optional.of(account(member, State.READ, count.get(), List.of())) : Optional.empty();
    }

    private static AccountsSummary.Account account(Member member, State state, int readings, List<SurveyLine> unread) {
        Set<String> why = new TreeSet<>();
        unread.stream()
                .filter(line -> !isBeyondLimit(line))
                .forEach(line -> why.add(
                        state == State.REFUSED
                                ? line.call() + " (" + line.obstacle() + ")"
                                : line.aspect() + " (" + line.obstacle().replaceFirst(":.*", "") + ")"));
        return new AccountsSummary.Account(
                member.account(), DisplayText.name(member.name()), state, readings, List.copyOf(why));
    }

    /** Shows how many accounts of how many are done. */
    private static final class AccountsProgress {
        private final ProgressBar bar;
        private final AtomicLong readings = new AtomicLong();
        private final AtomicInteger done = new AtomicInteger();
        private volatile int due;

        AccountsProgress(OutputOptions options, boolean isTerminal) {
            this.bar = new ProgressBar(options, isTerminal);
        }

        void expect(int accounts) {
            due = accounts;
        }

        /** Returns what is told of one account. */
        ReadingLog.Progress ofOne() {
            AtomicInteger before = new AtomicInteger();
            return (read, expected) -> {
                readings.addAndGet(read - before.getAndSet(read));
                draw();
            };
        }

        void done() {
            done.incrementAndGet();
            draw();
        }

        private void draw() {
            bar.draw(done.get(), due, "accounts, " + readings.get() + " readings");
        }

        void end() {
            bar.end();
        }
    }
}
