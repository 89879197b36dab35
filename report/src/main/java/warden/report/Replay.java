package warden.report;

import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import warden.core.access.Witness;
import warden.core.audit.Area;
import warden.core.audit.Audit;
import warden.core.audit.Finding;
import warden.core.document.DisplayText;
import warden.core.site.Site;

/** The command line that shows again what a finding says, for a shell. */
final class Replay {
    private static final Pattern PLAIN = Pattern.compile("[A-Za-z0-9_./:@%+=,-]+");
    private static final String USUAL_SURVEY = "survey.ndjson";
    private static final Set<String> SEEN_ON_THE_WAY = Set.of("take over", "listen in");
    private static final Set<String> SHARED = Set.of("aws:referer", "aws:useragent");
    private static final String MASK = "****";
    private static final int FEW = 4;

    private final Audit audit;
    private final Map<String, Site> sites = new HashMap<>();
    private final List<String> surveyFiles;

    Replay(Audit audit) {
        this.audit = audit;
        audit.sites().forEach(site -> sites.putIfAbsent(site.name(), site));
        this.surveyFiles = audit.context().surveyFiles();
    }

    /** Returns the command: the request that would succeed, the visit, the comparison of permissions, or the check alone. */
    String of(Finding finding) {
        Optional<Site> site = finding.site().map(sites::get);
        String command;
        if (finding.witness().isPresent()) {
            // echo would read the escapes of JSON as its own in some shells.
            command = "printf '%s\\n' " + quoted(question(finding.witness().get()))
                    + " | gentle-warden reach --explain --questions -";
        } else if (showsInTrace(finding) && host(finding, site).isPresent()) {
            String scheme = site.filter(each -> !each.edgeIds().isEmpty()).isPresent() ? "https" : "http";
            command = "gentle-warden trace "
                    + quoted(scheme + "://" + host(finding, site).get() + "/");
        } else if (finding.card().id().startsWith("publisher-")
                && finding.subject().startsWith("arn:")) {
            command = "gentle-warden trim --credential " + quoted(finding.subject());
        } else {
            command = "gentle-warden audit --only " + finding.card().id()
                    + site.map(each -> " --site " + quoted(each.name())).orElse("") + extra(finding);
        }
        return DisplayText.clean(command + surveys(finding));
    }

    /** Returns the question of {@code reach --questions} that a witness answers, on one line. */
    private static String question(Witness witness) {
        return Json.line(json -> json.text("who", witness.who())
                .text("action", witness.action())
                .text("on", witness.on())
                .object("context", () -> witness.context()
                        .forEach((key, value) -> json.text(key, isShared(key) ? MASK : value))));
    }

    /** What an edge and its bucket share is a secret; a shell's quotes would hide it from what masks the rest of the output. */
    private static boolean isShared(String key) {
        return SHARED.contains(key.toLowerCase(Locale.ROOT));
    }

    /** What visitors do not get, or get from somebody else, shows when their request is followed. */
    private static boolean showsInTrace(Finding finding) {
        Consequence consequence = Consequence.of(finding.card().id());
        boolean isOfServing =
                finding.card().area() != Area.PIPELINE && finding.card().area() != Area.CONTENT;
        return isOfServing
                && (consequence.group() == Consequence.Group.VISITORS || SEEN_ON_THE_WAY.contains(consequence.does()));
    }

    private static Optional<String> host(Finding finding, Optional<Site> site) {
        return site.flatMap(each -> each.hosts().contains(finding.subject())
                        ? Optional.of(finding.subject())
                        : each.hosts().stream().findFirst())
                .filter(host -> !host.startsWith("*"));
    }

    private String extra(Finding finding) {
        boolean isFile = !finding.subject().startsWith("arn:");
        boolean isSurveyed = finding.because().stream().anyMatch(at -> surveyFiles.contains(at.file()));
        return switch (finding.card().area()) {
            case PIPELINE -> isFile && !isSurveyed ? " --pipeline " + quoted(finding.subject()) : "";
            case CONTENT ->
                audit.context()
                        .folder()
                        .map(folder -> " --publish " + quoted(folder.name()))
                        .orElse("");
            default -> {
                Set<String> pipelines = new LinkedHashSet<>();
                finding.because().stream()
                        .filter(at -> at.aspect().equals("pipeline-file") && !surveyFiles.contains(at.file()))
                        .forEach(at -> pipelines.add(" --pipeline " + quoted(at.file())));
                yield String.join("", pipelines);
            }
        };
    }

    /** A question about one account needs its survey only; what accounts do together shows in all. */
    private String surveys(Finding finding) {
        List<String> files = surveyFiles;
        if (files.size() > FEW) {
            String shown = finding.because().get(0).file();
            files = List.of(files.contains(shown) ? shown : files.get(0));
        }
        return surveyOptions(files);
    }

    /** Returns the options that name these surveys; none for the survey that is looked for anyway. */
    static String surveyOptions(List<String> files) {
        return files.equals(List.of(USUAL_SURVEY))
                ? ""
                : files.stream().map(file -> " --survey " + quoted(file)).collect(Collectors.joining());
    }

    /** Quotes a word for a POSIX shell where it needs to be. */
    static String quoted(String word) {
        return PLAIN.matcher(word).matches() ? word : "'" + word.replace("'", "'\\''") + "'";
    }
}
