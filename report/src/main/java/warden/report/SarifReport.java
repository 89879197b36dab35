package warden.report;

import java.net.URI;
import java.net.URISyntaxException;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import warden.core.audit.Audit;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.document.DisplayText;
import warden.core.survey.Citation;

/**
 * An audit for tools that show results of static analysis. Source: OASIS Standard, "Static Analysis Results Interchange Format (SARIF) Version
 * 2.1.0".
 */
public final class SarifReport {
    private static final String SCHEMA =
            "https://docs.oasis-open.org/sarif/sarif/v2.1.0/errata01/os/schemas/sarif-schema-2.1.0.json";
    private static final String FINGERPRINT = "findingIdentity/v1";

    private SarifReport() {}

    /**
     * Returns the document.
     *
     * @param cards of all checks: the rules
     * @param version of the program
     */
    public static String of(Audit audit, List<CheckCard> cards, String version) {
        List<String> ids = cards.stream().map(CheckCard::id).toList();
        return Json.document(
                json -> json.text("$schema", SCHEMA).text("version", "2.1.0").objects("runs", List.of(audit), run -> {
                    json.object(
                            "tool",
                            () -> json.object("driver", () -> json.text("name", "Gentle Warden")
                                    .text("version", version)
                                    .objects("rules", cards, card -> rule(json, card))));
                    json.objects("invocations", List.of(audit), each -> invocation(json, each));
                    json.objects("results", results(audit), result -> result(json, ids, result));
                    json.text("columnKind", "unicodeCodePoints");
                }));
    }

    private static void rule(Json json, CheckCard card) {
        json.text("id", card.id());
        message(json, "shortDescription", card.summary());
        message(json, "fullDescription", card.why());
        message(json, "help", card.remedy() + " Follows: " + card.source() + ".");
        json.object("defaultConfiguration", () -> json.text("level", level(card.severity())));
        json.object("properties", () -> json.texts("tags", List.of(card.area().word()))
                .text("security-severity", score(card.severity())));
    }

    private static Json message(Json json, String name, String text) {
        return json.object(name, () -> json.text("text", DisplayText.clean(text)));
    }

    private static String level(Severity severity) {
        return switch (severity) {
            case CRITICAL, HIGH -> "error";
            case MEDIUM -> "warning";
            case LOW -> "note";
        };
    }

    /** Spells a severity on the scale of 0 to 10 that hosts of repositories sort by. */
    private static String score(Severity severity) {
        return switch (severity) {
            case CRITICAL -> "9.5";
            case HIGH -> "8.0";
            case MEDIUM -> "5.5";
            case LOW -> "2.0";
        };
    }

    /** What was not told goes where runs tell what kept them from telling more. */
    private static void invocation(Json json, Audit audit) {
        json.truth("executionSuccessful", true).objects("toolExecutionNotifications", audit.unknowns(), answer -> {
            Verdict.Unknown verdict = answer.verdict();
            json.text("level", "warning");
            message(
                    json,
                    "message",
                    answer.card().id() + " of " + verdict.subject() + " is unknown: "
                            + verdict.needs().stream()
                                    .map(need -> need.aspect() + " of " + need.of() + ", " + need.why()
                                            + (need.permission().isEmpty() ? "" : " (" + need.permission() + ")"))
                                    .collect(Collectors.joining("; ")));
            json.object("associatedRule", () -> json.text("id", answer.card().id()));
        });
    }

    /** A finding, and the agreement to leave it when there is one. */
    private record Result(Finding finding, List<Audit.Waived> agreed) {}

    private static List<Result> results(Audit audit) {
        List<Result> results = new ArrayList<>();
        audit.findings().forEach(finding -> results.add(new Result(finding, List.of())));
        audit.waived().forEach(waived -> results.add(new Result(waived.finding(), List.of(waived))));
        return results;
    }

    private static void result(Json json, List<String> ids, Result result) {
        Finding finding = result.finding();
        json.text("ruleId", finding.card().id())
                .number("ruleIndex", ids.indexOf(finding.card().id()))
                .text("level", level(finding.severity()));
        message(json, "message", finding.says() + " " + finding.remedy());
        List<Citation> because = finding.because();
        Consumer<Citation> place = citation -> location(json, citation, finding.subject());
        json.objects("locations", because.subList(0, 1), place);
        if (because.size() > 1) {
            json.objects("relatedLocations", because.subList(1, because.size()), place);
        }
        json.object("partialFingerprints", () -> json.text(FINGERPRINT, finding.fingerprint()));
        if (!result.agreed().isEmpty()) {
            json.objects("suppressions", result.agreed(), waived -> json.text("kind", "external")
                    .text(
                            "justification",
                            DisplayText.clean(waived.waiver().reason()) + " (until "
                                    + waived.waiver().until() + ")"));
        }
        json.object("properties", () -> json.text("subject", finding.subject())
                .text("site", finding.site().orElse(""))
                .text("severity", finding.severity().word()));
    }

    private static void location(Json json, Citation citation, String subject) {
        json.object("physicalLocation", () -> json.object(
                        "artifactLocation", () -> json.text("uri", uri(citation.shownFile())))
                .object("region", () -> json.number("startLine", citation.shownLine())));
        json.objects("logicalLocations", List.of(citation), each -> json.text(
                        "fullyQualifiedName", DisplayText.clean(each.aspect() + " of " + each.subject() + each.path()))
                .text("kind", "resource"));
        message(json, "message", subject);
    }

    /** Spells a file's name as a relative reference, with what must not stand in one escaped. */
    private static String uri(String file) {
        try {
            return new URI(null, null, file.replace('\\', '/'), null).toASCIIString();
        } catch (URISyntaxException strange) {
            return "survey";
        }
    }
}
