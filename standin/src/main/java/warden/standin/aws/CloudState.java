package warden.standin.aws;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import warden.core.aws.account.Account;
import warden.core.aws.site.AwsCloud;
import warden.core.aws.storage.Bucket;
import warden.core.aws.survey.AwsAspects;
import warden.core.document.Json;
import warden.core.document.JsonPart;
import warden.core.document.JsonSpelling;
import warden.core.site.SiteFile;
import warden.core.survey.Reading;
import warden.core.survey.Survey;
import warden.core.survey.SurveyException;
import warden.core.survey.SurveyHeader;
import warden.core.survey.SurveyLine;
import warden.core.survey.SurveyReader;
import warden.core.survey.SurveyWriter;

/** What the simulated account holds: the readings of a survey, and objects that deployments change. Safe for use by several threads. */
final class CloudState {
    /** With more, to parse all again is quicker than to change the survey object by object. */
    private static final int MOST_PENDING = 500;

    private final SurveyHeader header;
    private final Map<String, SurveyLine> lines = new LinkedHashMap<>();
    private final Map<String, List<SurveyLine>> pages = new LinkedHashMap<>();
    private final ObjectStore objects;
    /** What was uploaded or removed since the account was parsed: keys by bucket. */
    private final Map<String, Set<String>> pending = new LinkedHashMap<>();

    private @Nullable Account account;
    private @Nullable AwsCloud cloud;

    /**
     * Loads a survey.
     *
     * @param objects where what buckets hold is kept
     */
    CloudState(SurveyHeader header, List<SurveyLine> readings, ObjectStore objects) {
        this.header = header;
        this.objects = objects;
        Survey.Collector collector = new Survey.Collector(AwsAspects.TABLE);
        for (SurveyLine line : readings) {
            collector.add(line);
            String id = line.aspect() + " " + line.of();
            lines.put(id, line);
            pages.computeIfAbsent(id, key -> new ArrayList<>()).add(line);
        }
        Survey survey = collector.toSurvey(header);
        for (String arn : survey.subjects("bucket-objects")) {
            survey.listing("bucket-objects", arn).found().ifPresent(listing -> {
                objects.make(arn);
                for (Reading.Found<JsonPart> page : listing.pages()) {
                    page.value().list("Contents").forEach(entry -> entry.text("Key")
                            .ifPresent(key -> {
                                SurveyLine head = lines.get("object " + arn + "/" + key);
                                boolean found = head != null && head.outcome() == SurveyLine.Outcome.FOUND;
                                objects.load(arn, key, entry, found ? head.document() : null);
                            }));
                }
            });
        }
    }

    SurveyHeader header() {
        return header;
    }

    /**
     * Returns the account as it is now, for decisions. What buckets hold decides nothing, so that what was uploaded since may be missing; access
     * lists of objects are there.
     */
    synchronized Account account() {
        if (account == null) {
            pending.clear();
            account = new Account(survey());
        }
        return account;
    }

    /** Returns the account's sites as they are now, with what their buckets hold. */
    synchronized AwsCloud cloud() {
        if (!pending.isEmpty()) {
            catchUp();
        }
        if (cloud == null) {
            cloud = new AwsCloud(List.of(account()), SiteFile.empty());
        }
        return cloud;
    }

    /** Returns a bucket as it is set now. */
    Bucket bucket(String arn) {
        return account().bucket(nameOf(arn));
    }

    /** Returns the name of the bucket that an ARN is of. */
    static String nameOf(String bucketArn) {
        return Bucket.nameIn(bucketArn).orElseThrow();
    }

    private void changed() {
        account = null;
        cloud = null;
        pending.clear();
    }

    /** Notes that a bucket holds something else; nothing is parsed again until somebody looks at a site. */
    private void holds(String bucketArn, String key) {
        cloud = null;
        if (account != null && objects.has(bucketArn)) {
            pending.computeIfAbsent(bucketArn, arn -> new LinkedHashSet<>()).add(key);
        }
    }

    /** Brings the parsed account up to date with what buckets hold; what is set on them, and everything else, stays parsed. */
    private void catchUp() {
        int many = pending.values().stream().mapToInt(Set::size).sum();
        if (account == null || many > MOST_PENDING) {
            changed();
            return;
        }
        Account now = account;
        for (Map.Entry<String, Set<String>> bucket : pending.entrySet()) {
            String arn = bucket.getKey();
            Survey survey = now.survey().with(line("bucket-objects", arn, "s3:ListBucket", listing(arn)));
            for (String key : bucket.getValue()) {
                survey = with(survey, arn, key);
            }
            now = now.holding(survey, arn);
        }
        pending.clear();
        account = now;
    }

    private Survey with(Survey survey, String arn, String key) {
        String of = arn + "/" + key;
        Optional<StoredObject> object = objects.current(arn, key);
        JsonPart head = object.map(StoredObject::head).orElse(null);
        Survey changed = head != null
                ? survey.with(line("object", of, "s3:GetObject", JsonSpelling.of(head)))
                : survey.without("object", of);
        return lines.containsKey("object-acl " + of) ? changed : changed.without("object-acl", of);
    }

    synchronized Survey survey() {
        Survey.Collector collector = new Survey.Collector(AwsAspects.TABLE);
        allLines().forEach(collector::add);
        return collector.toSurvey(header);
    }

    /** Returns the state as a survey's text. */
    synchronized String text() {
        return SurveyWriter.text(header, allLines());
    }

    private List<SurveyLine> allLines() {
        List<SurveyLine> all = new ArrayList<>();
        pages.forEach((id, list) -> {
            String aspect = id.substring(0, id.indexOf(' '));
            String of = id.substring(id.indexOf(' ') + 1);
            if (aspect.equals("bucket-objects") && objects.has(of)) {
                all.add(line(aspect, of, "s3:ListBucket", listing(of)));
            } else if (!aspect.equals("object") || list.get(0).outcome() != SurveyLine.Outcome.FOUND) {
                all.addAll(list);
            }
        });
        for (String arn : objects.buckets()) {
            for (StoredObject object : objects.all(arn)) {
                if (object.head() != null) {
                    all.add(line("object", arn + "/" + object.key(), "s3:GetObject", JsonSpelling.of(object.head())));
                }
            }
        }
        return all;
    }

    private String listing(String arn) {
        List<JsonPart> entries =
                objects.all(arn).stream().map(StoredObject::entry).toList();
        return Json.text(Json.object(
                "Contents", entries, "IsTruncated", false, "KeyCount", entries.size(), "Name", nameOf(arn)));
    }

    private SurveyLine line(String aspect, String of, String call, String body) {
        return new SurveyLine(header.file(), 1, aspect, of, call, SurveyLine.Outcome.FOUND, body);
    }

    /** Returns the line that answers a question; absent when it was never asked. */
    synchronized Optional<SurveyLine> line(String aspect, String of) {
        return Optional.ofNullable(lines.get(aspect + " " + of));
    }

    /** Returns the pages of a listing in their order. */
    synchronized List<SurveyLine> pages(String aspect, String of) {
        return List.copyOf(pages.getOrDefault(aspect + " " + of, List.of()));
    }

    /** Returns the subjects of an aspect whose line is found. */
    synchronized List<String> subjects(String aspect) {
        return lines.values().stream()
                .filter(line -> line.aspect().equals(aspect) && line.outcome() == SurveyLine.Outcome.FOUND)
                .map(SurveyLine::of)
                .toList();
    }

    /** Replaces what is known about something. */
    synchronized void put(String aspect, String of, String call, String body) {
        SurveyLine line = line(aspect, of, call, body);
        lines.put(aspect + " " + of, line);
        pages.put(aspect + " " + of, new ArrayList<>(List.of(line)));
        changed();
    }

    /** Says that there is none of something. */
    synchronized void putAbsent(String aspect, String of, String call, String code) {
        SurveyLine line = new SurveyLine(header.file(), 1, aspect, of, call, SurveyLine.Outcome.ABSENT, code);
        lines.put(aspect + " " + of, line);
        pages.put(aspect + " " + of, new ArrayList<>(List.of(line)));
        changed();
    }

    /** Forgets what was known about something that is no more. */
    synchronized void forget(String aspect, String of) {
        lines.remove(aspect + " " + of);
        pages.remove(aspect + " " + of);
        changed();
    }

    synchronized boolean hasBucket(String arn) {
        return account().buckets().stream().anyMatch(bucket -> bucket.arn().equals(arn));
    }

    /** Returns what buckets hold. Who changes it says so by {@link #stored} or {@link #removed}. */
    ObjectStore objects() {
        return objects;
    }

    /**
     * Takes notice of an object that was stored.
     *
     * @param accessList its access list as get-object-acl spells it; empty where access lists are not in force
     */
    synchronized void stored(String bucketArn, String key, String accessList) {
        pages.computeIfAbsent(
                "bucket-objects " + bucketArn,
                id -> new ArrayList<>(List.of(line("bucket-objects", bucketArn, "s3:ListBucket", "{}"))));
        lines.computeIfAbsent(
                "bucket-objects " + bucketArn, id -> line("bucket-objects", bucketArn, "s3:ListBucket", "{}"));
        holds(bucketArn, key);
        accessList(bucketArn, key, accessList);
    }

    /** Takes notice of an object of which another version is the current one now; its access list stays. */
    synchronized void touched(String bucketArn, String key) {
        holds(bucketArn, key);
    }

    /** Takes notice of an object that is no more. */
    synchronized void removed(String bucketArn, String key) {
        holds(bucketArn, key);
        accessList(bucketArn, key, "");
    }

    /** Replaces an object's access list; empty for none. */
    synchronized void accessList(String bucketArn, String key, String accessList) {
        String id = "object-acl " + bucketArn + "/" + key;
        SurveyLine before = lines.get(id);
        if (accessList.isEmpty()
                ? before == null
                : before != null && before.body().equals(accessList)) {
            return;
        }
        if (accessList.isEmpty()) {
            lines.remove(id);
            pages.remove(id);
        } else {
            SurveyLine line = line("object-acl", bucketArn + "/" + key, "s3:GetObjectAcl", accessList);
            lines.put(id, line);
            pages.put(id, new ArrayList<>(List.of(line)));
        }
        cloud = null;
        if (account != null) {
            String of = bucketArn + "/" + key;
            account = account.holding(
                    accessList.isEmpty()
                            ? account.survey().without("object-acl", of)
                            : account.survey().with(lines.get(id)),
                    bucketArn);
        }
    }

    /** Reads a survey's text into a state. */
    static CloudState parse(String text, String file, ObjectStore objects) throws SurveyException {
        List<SurveyLine> readings = new ArrayList<>();
        try {
            SurveyHeader header = SurveyReader.read(
                    new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8)), file, readings::add);
            return new CloudState(header, readings, objects);
        } catch (IOException impossible) {
            throw new UncheckedIOException(impossible);
        }
    }
}
