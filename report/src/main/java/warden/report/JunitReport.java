package warden.report;

import java.io.StringWriter;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;
import javax.xml.stream.XMLOutputFactory;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamWriter;
import warden.core.audit.Audit;
import warden.core.audit.Audit.UnknownAnswer;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Gate;
import warden.core.audit.Judgement;
import warden.core.document.DisplayText;
import warden.core.survey.Citation;

/**
 * An audit as a CI server shows tests: a suite for each site, a case for each check and subject. A finding at or above the gate fails its case,
 * one below it is told in the case's output, and what is unknown is a case left out.
 */
public final class JunitReport {
    private static final String NO_SITE = "(no site)";

    /** One case. */
    private record Case(CheckCard card, String subject, List<Finding> findings, List<UnknownAnswer> open, Gate gate) {
        boolean holdsUp() {
            return open.stream().anyMatch(gate::isHeldUpBy);
        }

        List<String> unknown() {
            return open.stream()
                    .map(answer -> answer.verdict().needs().stream()
                            .map(need -> need.aspect() + " of " + need.of() + ": " + need.why())
                            .collect(Collectors.joining("; ")))
                    .toList();
        }
    }

    private final Audit audit;
    private final Judgement judgement;
    private final XMLStreamWriter xml;

    private JunitReport(Audit audit, Judgement judgement, XMLStreamWriter xml) {
        this.audit = audit;
        this.judgement = judgement;
        this.xml = xml;
    }

    /** Returns the document: a case fails by a finding that fails the audit, and ends in error by a question that holds it up. */
    public static String of(Audit audit, Judgement judgement) {
        StringWriter out = new StringWriter();
        try {
            XMLStreamWriter xml = XMLOutputFactory.newFactory().createXMLStreamWriter(out);
            new JunitReport(audit, judgement, xml).document();
            xml.close();
        } catch (XMLStreamException impossible) {
            throw new IllegalStateException("a text in memory can be written to", impossible);
        }
        return out + "\n";
    }

    private void document() throws XMLStreamException {
        Map<String, Map<String, Case>> suites = suites();
        xml.writeStartDocument("UTF-8", "1.0");
        xml.writeCharacters("\n");
        xml.writeStartElement("testsuites");
        xml.writeAttribute("name", "Gentle Warden");
        counts(suites.values().stream()
                .flatMap(cases -> cases.values().stream())
                .toList());
        for (Map.Entry<String, Map<String, Case>> suite : suites.entrySet()) {
            xml.writeCharacters("\n ");
            xml.writeStartElement("testsuite");
            xml.writeAttribute("name", clean(suite.getKey()));
            counts(List.copyOf(suite.getValue().values()));
            xml.writeAttribute("timestamp", audit.context().at().toString().replaceFirst("Z$", ""));
            for (Case each : suite.getValue().values()) {
                test(each);
            }
            xml.writeCharacters("\n ");
            xml.writeEndElement();
        }
        xml.writeCharacters("\n");
        xml.writeEndElement();
        xml.writeEndDocument();
    }

    private void counts(List<Case> cases) throws XMLStreamException {
        xml.writeAttribute("tests", String.valueOf(cases.size()));
        xml.writeAttribute(
                "failures", String.valueOf(cases.stream().filter(this::fails).count()));
        xml.writeAttribute(
                "errors", String.valueOf(cases.stream().filter(this::isHeldUp).count()));
        xml.writeAttribute(
                "skipped",
                String.valueOf(cases.stream()
                        .filter(each -> !fails(each)
                                && !isHeldUp(each)
                                && each.findings().isEmpty()
                                && !each.unknown().isEmpty())
                        .count()));
        xml.writeAttribute("time", "0");
    }

    private boolean fails(Case each) {
        return each.findings().stream().anyMatch(judgement::isFailedBy);
    }

    /** A question that holds the audit up is no failure, and no pass either. */
    private boolean isHeldUp(Case each) {
        return !fails(each) && each.holdsUp();
    }

    private Map<String, Map<String, Case>> suites() {
        Map<String, Map<String, Case>> suites = new TreeMap<>();
        audit.cleanAnswers()
                .forEach(answer -> caseOf(
                        suites,
                        answer.card(),
                        answer.verdict().site(),
                        answer.verdict().subject()));
        audit.unknowns().forEach(answer -> caseOf(
                        suites,
                        answer.card(),
                        answer.verdict().site(),
                        answer.verdict().subject())
                .open()
                .add(answer));
        audit.findings().forEach(finding -> caseOf(suites, finding.card(), finding.site(), finding.subject())
                .findings()
                .add(finding));
        return suites;
    }

    private Case caseOf(Map<String, Map<String, Case>> suites, CheckCard card, Optional<String> site, String subject) {
        return suites.computeIfAbsent(site.orElse(NO_SITE), name -> new TreeMap<>())
                .computeIfAbsent(
                        card.id() + " " + subject,
                        key -> new Case(card, subject, new ArrayList<>(), new ArrayList<>(), judgement.gate()));
    }

    private void test(Case each) throws XMLStreamException {
        xml.writeCharacters("\n  ");
        xml.writeStartElement("testcase");
        xml.writeAttribute(
                "classname", each.card().area().word() + "." + each.card().id());
        xml.writeAttribute("name", clean(each.subject()));
        xml.writeAttribute("time", "0");
        if (fails(each)) {
            xml.writeStartElement("failure");
            Finding worst = each.findings().get(0);
            xml.writeAttribute("type", worst.severity().word());
            xml.writeAttribute("message", clean(worst.says()));
            xml.writeCharacters(text(each.findings()));
            xml.writeEndElement();
        } else if (isHeldUp(each)) {
            xml.writeStartElement("error");
            xml.writeAttribute("type", "unknown");
            xml.writeAttribute("message", clean("unknown: " + String.join("; ", each.unknown())));
            xml.writeEndElement();
        } else if (!each.findings().isEmpty()) {
            xml.writeStartElement("system-out");
            xml.writeCharacters(text(each.findings()));
            xml.writeEndElement();
        } else if (!each.unknown().isEmpty()) {
            xml.writeStartElement("skipped");
            xml.writeAttribute("message", clean("unknown: " + String.join("; ", each.unknown())));
            xml.writeEndElement();
        }
        xml.writeEndElement();
    }

    private static String text(List<Finding> findings) {
        return findings.stream()
                .map(finding -> clean(finding.severity().word() + ": " + finding.says()) + "\nbecause "
                        + finding.because().stream()
                                .limit(4)
                                .map((Citation at) -> Lines.cite(at))
                                .collect(Collectors.joining("; "))
                        + "\nremedy " + clean(finding.remedy()))
                .collect(Collectors.joining("\n\n"));
    }

    /** XML has no place for control characters, not even escaped. */
    private static String clean(String text) {
        return DisplayText.clean(text);
    }
}
