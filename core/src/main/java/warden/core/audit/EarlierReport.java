package warden.core.audit;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;

/**
 * The findings of an earlier audit, as its JSON report tells them.
 *
 * @param file the report's name, as given
 * @param accounts the numbers of the accounts that it was about
 * @param findings those that it reported; what was waived then is not among them
 */
public record EarlierReport(String file, Set<String> accounts, List<Known> findings) {
    private static final int VERSION = 1;

    public EarlierReport {
        accounts = Set.copyOf(accounts);
        findings = List.copyOf(findings);
    }

    /**
     * A finding of the report.
     *
     * @param area the area's word
     * @param account the number of the account whose survey showed it; empty when the report does not tell
     */
    public record Known(
            String fingerprint, String check, String area, String subject, Optional<String> site, String account) {}

    /** Says why a text is no report that can be used. */
    public static final class UnusableReportException extends Exception {
        private static final long serialVersionUID = 1L;

        UnusableReportException(String message) {
            super(message);
        }
    }

    /**
     * Reads a report.
     *
     * @param file its name, for messages
     * @throws UnusableReportException when it is no JSON, no report of this program, or of a version that is not understood
     */
    public static EarlierReport parse(String file, String text) throws UnusableReportException {
        JsonReader.Result read = JsonReader.read(text);
        if (read.root().isEmpty() || !read.problems().isEmpty()) {
            throw new UnusableReportException(
                    file + ": this is not JSON; --since takes the JSON report of an earlier audit");
        }
        JsonPart root = read.root().get();
        Optional<JsonPart> version = root.find("report");
        if (version.isEmpty() || root.find("findings").isEmpty()) {
            throw new UnusableReportException(file
                    + ": this is no audit report; --since takes what audit --format json or --report json=FILE wrote");
        }
        String written = version.get().scalar().orElse(version.get().kind());
        if (!written.equals(Integer.toString(VERSION))) {
            throw new UnusableReportException(file + ": this report is of version " + written + ", and only " + VERSION
                    + " is understood; make it again with this program");
        }
        Map<String, String> accounts = new HashMap<>();
        root.list("survey")
                .forEach(survey -> accounts.put(
                        survey.text("file").orElse(""), survey.text("account").orElse("")));
        List<Known> findings = new ArrayList<>();
        for (JsonPart finding : root.list("findings")) {
            Optional<String> fingerprint = finding.text("fingerprint");
            Optional<String> check = finding.text("check");
            Optional<String> subject = finding.text("subject");
            if (fingerprint.isEmpty() || check.isEmpty() || subject.isEmpty()) {
                throw new UnusableReportException(file + ": finding " + (findings.size() + 1)
                        + " lacks its check, subject or fingerprint; make the report again");
            }
            String shownBy = finding.list("because").stream()
                    .findFirst()
                    .flatMap(because -> because.text("file"))
                    .orElse("");
            String only = accounts.size() == 1 ? accounts.values().iterator().next() : "";
            findings.add(new Known(
                    fingerprint.get(),
                    check.get(),
                    finding.text("area").orElse(""),
                    subject.get(),
                    finding.text("site"),
                    accounts.getOrDefault(shownBy, only)));
        }
        return new EarlierReport(
                file,
                accounts.values().stream().filter(number -> !number.isEmpty()).collect(Collectors.toSet()),
                findings);
    }

    /**
     * Compares a later audit with this.
     *
     * @throws UnusableReportException when the audit is about none of the accounts that this is about
     */
    public Comparison with(Audit audit) throws UnusableReportException {
        Set<String> present = audit.context().accounts().stream()
                .map(account -> account.number())
                .collect(Collectors.toSet());
        if (!accounts.isEmpty() && accounts.stream().noneMatch(present::contains)) {
            throw new UnusableReportException(file + ": this report is of account "
                    + accounts.stream().sorted().collect(Collectors.joining(", ")) + ", and the survey is of "
                    + present.stream().sorted().collect(Collectors.joining(", "))
                    + "; give the report of the same account");
        }
        return Comparison.of(this, audit, present);
    }
}
