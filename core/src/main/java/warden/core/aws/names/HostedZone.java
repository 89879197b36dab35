package warden.core.aws.names;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import warden.core.aws.survey.AwsAspects;
import warden.core.document.JsonPart;
import warden.core.names.HostRecord;
import warden.core.names.Zone;
import warden.core.survey.Need;
import warden.core.survey.Reading;
import warden.core.survey.Survey;

/** One hosted zone and its records. Safe for use by several threads. */
public final class HostedZone implements Zone {
    /** What reading the records of a zone takes. */
    public static final String TO_READ_RECORDS = "route53:ListResourceRecordSets";

    private final Survey survey;
    private final String id;
    private @Nullable Optional<String> name;
    private @Nullable Boolean isPrivate;
    private @Nullable Reading<Records> records;

    /** The records, and whether they are all. */
    private record Records(List<HostRecord> all, boolean complete) {}

    public HostedZone(Survey survey, String id) {
        this.survey = survey;
        this.id = id;
    }

    /** Returns the zone's identifier, {@code hostedzone/ID}. */
    @Override
    public String id() {
        return id;
    }

    /** Returns the zone's own settings. */
    public Reading<JsonPart> settings() {
        return survey.reading("zone", id);
    }

    /** Returns the zone's name without its final dot; absent when neither the zone nor the list of zones was read. */
    @Override
    public synchronized Optional<String> name() {
        if (name == null) {
            name = readName();
        }
        return name;
    }

    private Optional<String> readName() {
        return settings()
                .found()
                .flatMap(answer -> answer.text("HostedZone", "Name"))
                .or(this::nameInList)
                .map(HostRecord::canonical);
    }

    private Optional<String> nameInList() {
        return listed().flatMap(zone -> zone.text("Name"));
    }

    private Optional<JsonPart> listed() {
        return survey.listing("zone-list", survey.header().account()).found().stream()
                .flatMap(listing -> listing.pages().stream())
                .flatMap(page -> page.value().list("HostedZones").stream())
                .filter(zone -> zone.text("Id").orElse("").endsWith(id))
                .findFirst();
    }

    /** True when the zone answers only inside private networks. */
    @Override
    public synchronized boolean isPrivate() {
        if (isPrivate == null) {
            isPrivate = readPrivate();
        }
        return isPrivate;
    }

    private boolean readPrivate() {
        return settings()
                .found()
                .flatMap(answer -> answer.flag("HostedZone", "Config", "PrivateZone"))
                .or(() -> listed().flatMap(zone -> zone.flag("Config", "PrivateZone")))
                .orElse(false);
    }

    /** Returns what keeps its records from being known as a whole: that they were not read, or not to their end. */
    @Override
    public Optional<Need> unlisted() {
        return records()
                .missing()
                .or(() -> isComplete() ? Optional.empty() : Optional.of(AwsAspects.cutShort("zone-records", id)));
    }

    /** Returns the name servers that serve the zone, in lower case; absent when the answer does not show them. */
    @Override
    public Optional<List<String>> nameServers() {
        return settings()
                .found()
                .map(answer -> answer.texts("DelegationSet", "NameServers").stream()
                        .map(HostRecord::canonical)
                        .toList())
                .filter(servers -> !servers.isEmpty());
    }

    /** Returns the records. */
    @Override
    public Reading<List<HostRecord>> records() {
        return read().map(Records::all);
    }

    private synchronized Reading<Records> read() {
        if (records == null) {
            records =
                    survey.listing("zone-records", id).map(listing -> new Records(parse(listing), listing.complete()));
        }
        return records;
    }

    private List<HostRecord> parse(Survey.Listing listing) {
        List<HostRecord> all = new ArrayList<>();
        for (Reading.Found<JsonPart> page : listing.pages()) {
            for (JsonPart set : page.value().list("ResourceRecordSets")) {
                all.add(new HostRecord(
                        id,
                        HostRecord.canonical(set.text("Name").orElse("")),
                        set.text("Type").orElse(""),
                        set.text("AliasTarget", "DNSName").map(HostRecord::canonical),
                        set.text("AliasTarget", "HostedZoneId"),
                        set.list("ResourceRecords").stream()
                                .flatMap(value -> value.text("Value").stream())
                                .toList(),
                        set.text("SetIdentifier").orElse(""),
                        page.at().at(set)));
            }
        }
        return all;
    }

    /** True when the survey has every page of the records, so that what is not among them does not exist. */
    @Override
    public boolean isComplete() {
        return read().found().map(Records::complete).orElse(false);
    }
}
