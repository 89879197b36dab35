package warden.core.audit;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import warden.core.access.Witness;
import warden.core.survey.Citation;

/**
 * One thing that is wrong, with the readings that show it.
 *
 * @param subject the identifier of the thing to change
 * @param site the site's name; absent when it concerns no site
 * @param place tells findings of one check about one subject apart, and stays the same when lines move; empty when there is one only
 * @param mark the same as {@code place}, by what is meant there and not by where it stands, so that it stays the same when a document is respelt
 * @param says a sentence about what is wrong here
 * @param because at least one citation
 * @param remedy what to do here, in a sentence
 */
public record Finding(
        CheckCard card,
        Severity severity,
        String subject,
        Optional<String> site,
        String place,
        String mark,
        String says,
        List<Citation> because,
        Optional<Witness> witness,
        String remedy) {
    public Finding {
        because = because.stream().distinct().toList();
        if (because.isEmpty()) {
            throw new IllegalArgumentException(card.id() + " reports without evidence");
        }
        if (says.isBlank() || !says.endsWith(".")) {
            throw new IllegalArgumentException(card.id() + " says no sentence: " + says);
        }
    }

    /** Returns a finding with the card's severity and remedy. */
    public static Finding of(
            CheckCard card, String subject, Optional<String> site, String says, List<Citation> because) {
        return new Finding(
                card, card.severity(), subject, site, "", "", says, because, Optional.empty(), card.remedy());
    }

    /** Returns this finding with another severity. */
    public Finding as(Severity other) {
        return new Finding(card, other, subject, site, place, mark, says, because, witness, remedy);
    }

    /** Returns this finding with a request that shows it. */
    public Finding with(Optional<Witness> request) {
        return new Finding(card, severity, subject, site, place, mark, says, because, request, remedy);
    }

    /** Returns this finding with another sentence. */
    public Finding saying(String sentence) {
        return new Finding(card, severity, subject, site, place, mark, sentence, because, witness, remedy);
    }

    /**
     * Returns this finding told apart from others of the same check and subject by what it means, however that is spelt.
     *
     * @param meaning the same for documents that mean the same
     */
    public Finding meaning(String meaning) {
        return new Finding(card, severity, subject, site, place, meaning, says, because, witness, remedy);
    }

    /** Returns this finding told apart from others of the same check and subject. */
    public Finding at(String otherPlace) {
        return new Finding(card, severity, subject, site, otherPlace, otherPlace, says, because, witness, remedy);
    }

    /** Returns this finding with one more reading that it rests on. */
    public Finding restingOn(Citation more) {
        List<Citation> all = new ArrayList<>(because);
        all.add(more);
        return new Finding(card, severity, subject, site, place, mark, says, all, witness, remedy);
    }

    /** Returns this finding as one of another site. */
    public Finding inSite(String name) {
        return new Finding(card, severity, subject, Optional.of(name), place, mark, says, because, witness, remedy);
    }

    /** Returns this finding with its own remedy. */
    public Finding mendedBy(String otherRemedy) {
        return new Finding(card, severity, subject, site, place, mark, says, because, witness, otherRemedy);
    }

    /** Returns 16 hexadecimal digits made from check, subject and meaning: the same across runs and moved lines. */
    public String fingerprint() {
        try {
            byte[] hash = MessageDigest.getInstance("SHA-256")
                    .digest((card.id() + "\n" + subject + "\n" + mark).getBytes(StandardCharsets.UTF_8));
            return HexFormat.of().formatHex(hash, 0, 8);
        } catch (NoSuchAlgorithmException impossible) {
            throw new IllegalStateException("every Java platform has SHA-256", impossible);
        }
    }
}
