package warden.report;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.LongSummaryStatistics;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.LongStream;
import warden.core.audit.AccountSum;
import warden.core.audit.Audit;
import warden.core.audit.Finding;
import warden.core.audit.Judgement;
import warden.core.audit.Severity;
import warden.core.audit.Standing;
import warden.core.document.DisplayText;
import warden.core.site.Site;
import warden.core.survey.SurveyedAccount;

/**
 * The first look at an audit: one screen that says whose account this is and whether it was read, how bad it is and what the gate makes of it,
 * the worst in the groups that a person thinks in, the sites, and what to type next. Never longer than a usual terminal is high.
 */
public final class AuditScreen {
    /** What a terminal of 24 lines shows at once, with the line that is typed into next. */
    private static final int LINES = 23;

    private static final int DOES = 13;
    private static final int NAME = 34;
    private static final int FEW = 2;
    private static final int FIRST_ACCOUNTS = 10;
    private static final int LEAST_GROUPED = 9;
    private static final String SEPARATOR = " \u00b7 ";

    private final Audit audit;
    private final Judgement judgement;
    private final Style style;
    private final Names names;
    private final List<SurveyedAccount> accounts;
    private final List<AccountSum> sums;

    private AuditScreen(Audit audit, Judgement judgement, Style style) {
        this.audit = audit;
        this.judgement = judgement;
        this.style = style;
        this.names = new Names(audit.context().clouds());
        this.accounts = audit.context().accounts();
        this.sums = AccountSum.of(audit);
    }

    /**
     * Returns the screen.
     *
     * @param next what to type next, a command a line; absent for what follows from the audit
     * @param taken how many lines of the terminal are taken by what was said before
     */
    public static String of(Audit audit, Judgement judgement, Style style, Optional<List<String>> next, int taken) {
        AuditScreen screen = new AuditScreen(audit, judgement, style);
        return String.join("\n", screen.lines(next.orElseGet(screen::next), LINES - taken)) + "\n";
    }

    private List<String> lines(List<String> next, int most) {
        List<String> head = new ArrayList<>(wrapped(whose(), ""));
        head.addAll(counts());
        judgement.since().ifPresent(since -> head.addAll(wrapped(AuditText.since(audit, since), "")));
        List<String> foot = new ArrayList<>(sites());
        foot.addAll(firstAccounts());
        foot.addAll(leftovers());
        foot.addAll(next);
        // A command is never broken, and a terminal breaks what is too long for it.
        int room = most - head.size() - foot.stream().mapToInt(this::height).sum();
        List<String> notTold =
                notTold(room - Math.min(LEAST_GROUPED, 2 * audit.findings().size()));
        List<String> groups = groups(room - notTold.size());
        List<String> lines = new ArrayList<>(head);
        lines.addAll(groups);
        lines.addAll(foot);
        lines.addAll(notTold);
        return lines;
    }

    private List<String> wrapped(String text, String indent) {
        return List.of(Lines.wrapped(text, indent, style).split("\n"));
    }

    private int height(String line) {
        int columns = line.replaceAll("\u001b\\[[0-9;]*m", "").length();
        return Math.max(1, (columns + style.width() - 1) / style.width());
    }

    /** A paragraph after its heading, which is made bold when the lines are broken already. */
    private List<String> headed(String heading, String text) {
        List<String> lines = new ArrayList<>(wrapped(heading + "  " + text, " ".repeat(heading.length() + 2)));
        lines.set(0, style.strong(heading) + lines.get(0).substring(heading.length()));
        return lines;
    }

    /** A line that is cut where the terminal ends, since a screen has no room for a second. */
    private String cut(String text) {
        int width = style.width();
        return text.codePointCount(0, text.length()) <= width
                ? text
                : text.substring(0, text.offsetByCodePoints(0, width - 1)) + "\u2026";
    }

    private String whose() {
        List<String> parts = new ArrayList<>();
        parts.add(
                accounts.size() == 1
                        ? DisplayText.name(accounts.get(0).number())
                        : Lines.count(accounts.size(), "account"));
        parts.add(Lines.count(audit.sites().size(), "site"));
        parts.add(surveyed());
        long unread = sums.stream()
                .filter(sum -> sum.account().isPresent() && sum.unknown() > 0)
                .count();
        parts.add(
                audit.unknowns().isEmpty()
                        ? "everything could be read"
                        : accounts.size() == 1 ? "not everything could be read" : unread + " of them not read whole");
        return String.join(SEPARATOR, parts);
    }

    private String surveyed() {
        List<Age> ages = accounts.stream()
                .flatMap(account ->
                        Age.of(account.survey().header(), audit.context().at()).stream())
                .toList();
        if (ages.size() < accounts.size()) {
            return ages.isEmpty() ? "when it was surveyed is not known" : "when all were surveyed is not known";
        }
        LongSummaryStatistics days =
                ages.stream().flatMapToLong(age -> LongStream.of(age.days())).summaryStatistics();
        Age oldest = new Age(days.getMax());
        return "surveyed " + (days.getMin() == days.getMax() ? "" : days.getMin() + " to ") + oldest.spelled();
    }

    private List<String> counts() {
        StringBuilder plain = new StringBuilder();
        StringBuilder shown = new StringBuilder();
        audit.counts(Optional.empty()).forEach((severity, number) -> {
            String text = number + " " + severity.word();
            plain.append("  ").append(text);
            shown.append("  ").append(number > 0 ? style.marked(severity, text) : text);
        });
        String gate = GateWords.of(judgement);
        if (plain.length() + 4 + gate.length() <= style.width()) {
            return List.of(shown + "    " + style.strong(gate));
        }
        List<String> lines = new ArrayList<>(List.of(shown.toString()));
        lines.addAll(wrapped("  " + gate, "  "));
        return lines;
    }

    private List<String> groups(int room) {
        FirstLook look = FirstLook.of(audit, names, room);
        int widest = look.groups().stream()
                .flatMap(group -> group.entries().stream())
                .mapToInt(entry -> entry.name().length())
                .max()
                .orElse(0);
        List<String> lines = new ArrayList<>();
        look.groups().forEach(group -> {
            lines.add(style.strong(group.heading().heading().toUpperCase(Locale.ROOT)));
            group.entries().forEach(entry -> lines.add(line(entry, Math.min(widest, NAME))));
        });
        if (!look.left().isEmpty()) {
            lines.add(look.left());
        }
        return lines;
    }

    private String line(FirstLook.Entry entry, int width) {
        Finding first = entry.first();
        String number = Integer.toString(entry.number());
        String mark = " ".repeat(Math.max(0, 3 - number.length())) + number + " "
                + Lines.column(short4(first.severity()), 5)
                + Lines.column(entry.consequence().does(), DOES);
        String rest = Lines.column(entry.name(), width) + "  " + entry.detail();
        String plain = cut(mark + rest);
        int from = mark.indexOf(' ', 3) + 1;
        String severity = short4(first.severity());
        return plain.substring(0, from)
                + style.marked(first.severity(), severity)
                + plain.substring(Math.min(from + severity.length(), plain.length()));
    }

    private static String short4(Severity severity) {
        return switch (severity) {
            case CRITICAL -> "crit";
            case HIGH -> "high";
            case MEDIUM -> "med";
            case LOW -> "low";
        };
    }

    private List<String> sites() {
        List<Site> healthy = audit.sites().stream().filter(audit::isHealthy).toList();
        long notJudged = audit.sites().stream()
                .filter(site -> audit.standing(site) == Standing.NOT_JUDGED)
                .filter(site -> !hasFindings(site))
                .count();
        long found = audit.sites().stream().filter(this::hasFindings).count();
        long open = audit.sites().size() - healthy.size() - notJudged - found;
        List<String> parts = new ArrayList<>();
        if (found > 0) {
            parts.add(found + " with findings");
        }
        if (!healthy.isEmpty()) {
            String named =
                    healthy.stream().map(site -> Lines.brief(site.name())).collect(Collectors.joining(", "));
            parts.add(healthy.size() + " healthy" + (healthy.size() <= 3 ? " (" + named + ")" : ""));
        }
        if (notJudged > 0) {
            parts.add(notJudged + " not judged");
        }
        if (open > 0) {
            parts.add(open + " not known");
        }
        int buckets = audit.unreadStores().size();
        if (buckets > 0) {
            parts.add(Lines.count(buckets, "bucket") + " not read");
        }
        long siteless = audit.findings().stream()
                .filter(finding -> finding.site().isEmpty())
                .count();
        if (siteless > 0) {
            parts.add(Lines.count(siteless, "finding") + " of no site");
        }
        String text = parts.isEmpty() ? "none seen" : String.join(SEPARATOR, parts);
        return headed("SITES", text);
    }

    private boolean hasFindings(Site site) {
        return audit.counts(Optional.of(site.name())).values().stream().anyMatch(count -> count > 0);
    }

    /** Of many accounts, those to begin with. */
    private List<String> firstAccounts() {
        if (accounts.size() < 2) {
            return List.of();
        }
        List<String> worst = sums.stream()
                .filter(sum -> sum.account().isPresent())
                .filter(sum -> sum.counts().values().stream().anyMatch(count -> count > 0))
                .sorted(ShownSites.worstFirst(AccountSum::counts))
                .limit(FIRST_ACCOUNTS)
                .map(sum -> DisplayText.name(sum.account().get().number()) + " (" + worst(sum) + ")")
                .toList();
        if (worst.isEmpty()) {
            return List.of();
        }
        List<String> lines = headed("BEGIN WITH", String.join(", ", worst));
        return lines.size() <= 4 ? lines : lines.subList(0, 4);
    }

    private static String worst(AccountSum sum) {
        return sum.counts().entrySet().stream()
                .filter(each -> each.getValue() > 0)
                .limit(1)
                .map(each -> each.getValue() + " " + each.getKey().word())
                .collect(Collectors.joining());
    }

    private List<String> leftovers() {
        List<Finding> leftovers = Leftovers.inOrder(audit);
        if (leftovers.isEmpty()) {
            return List.of();
        }
        String first = names.of(leftovers.get(0).subject());
        return List.of(cut("LEFT OVER  " + Lines.count(leftovers.size(), "thing") + " to delete, "
                + (leftovers.size() == 1 ? "" : "in this order: ") + first
                + (leftovers.size() == 1
                        ? ""
                        : ", " + names.brief(leftovers.get(1).subject()))
                + (leftovers.size() > 2 ? " and more; --full lists them" : "")));
    }

    private List<String> next() {
        String survey = Replay.surveyOptions(named(audit.context().surveyFiles()));
        return audit.findings().isEmpty()
                ? List.of("Next, who can do what:   gentle-warden reach" + survey)
                : List.of(
                        "Next, the first in full: gentle-warden audit --show 1" + survey,
                        "      all of it:         gentle-warden audit --full" + survey);
    }

    /** Names a few surveys one by one, and many by the folder that holds them all. */
    private static List<String> named(List<String> files) {
        List<String> folders = files.stream()
                .map(file -> file.contains("/") ? file.substring(0, file.lastIndexOf('/')) : ".")
                .distinct()
                .toList();
        return files.size() <= FEW ? files : folders.size() == 1 ? folders : List.of("...");
    }

    /** Says what could not be told; the statement whole where there is room, else where it stands. */
    private List<String> notTold(int room) {
        if (audit.unknowns().isEmpty()) {
            return List.of();
        }
        NotTold told = new NotTold(audit, names);
        // A terminal breaks lines at blanks, and so the statement can be copied from it.
        List<String> whole = wrapped(told.sentence(told.statement().replace(",\"", ", \"")), "");
        return whole.size() <= Math.max(2, room) || told.statement().isEmpty()
                ? whole
                : wrapped(
                        told.what() + "; \"gentle-warden audit --full\" ends with the statement of "
                                + told.missingPermissions() + " permissions that would allow to read it.",
                        "");
    }
}
