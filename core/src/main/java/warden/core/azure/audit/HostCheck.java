package warden.core.azure.audit;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import warden.core.audit.Verdict;
import warden.core.azure.names.DnsZone;
import warden.core.azure.site.AzureAccount;
import warden.core.azure.site.EndpointName;
import warden.core.azure.site.WebSite;
import warden.core.names.HostRecord;
import warden.core.names.Lead;

/** A check that asks its question of every host that a zone of this provider holds, or that leads to something of this provider. */
public interface HostCheck extends AzureCheck<HostCheck.Of> {
    /** One host. */
    record Of(AzureContext context, String host) implements Subject {
        @Override
        public String id() {
            return host;
        }

        @Override
        public Optional<String> site() {
            return context.cloud().siteOf(host).map(WebSite::name);
        }

        public List<Lead> leads() {
            return context.cloud().hosts().leads(host);
        }

        public List<HostRecord> records() {
            return context.cloud().hosts().records(host);
        }
    }

    @Override
    default List<Of> subjects(AzureContext context) {
        return context.subjects(HostCheck.class, () -> list(context));
    }

    private static List<Of> list(AzureContext context) {
        Set<String> zones = new HashSet<>();
        context.cloud().accounts().forEach(account -> account.zones().forEach(zone -> zones.add(zone.id())));
        List<Of> all = new ArrayList<>();
        for (String host : context.cloud().hosts().hosts()) {
            boolean isHeld =
                    context.cloud().hosts().records(host).stream().anyMatch(record -> zones.contains(record.zone()));
            boolean leadsHere = context.cloud().hosts().leads(host).stream()
                    .anyMatch(lead -> EndpointName.parse(lead.target()).isPresent());
            if (isHeld || leadsHere) {
                all.add(new Of(context, host));
            }
        }
        return List.copyOf(all);
    }

    /** Hosts that a refused or shortened listing would have named are open questions. */
    @Override
    default List<Verdict> unread(AzureContext context) {
        return unlisted(context);
    }

    /** Returns the open verdicts for zones and records that were not read to their end. */
    static List<Verdict> unlisted(AzureContext context) {
        List<Verdict> open = new ArrayList<>();
        for (AzureAccount account : context.cloud().accounts()) {
            account.unlistedZones()
                    .ifPresent(need -> open.add(
                            new Verdict.Unknown(account.subscription().id(), Optional.empty(), List.of(need))));
            for (DnsZone zone : account.zones()) {
                if (!zone.isPrivate()) {
                    zone.unlisted()
                            .ifPresent(need -> open.add(new Verdict.Unknown(
                                    zone.id(), siteBelow(context, zone.name().orElse("")), List.of(need))));
                }
            }
        }
        return open;
    }

    /** Returns the first site with a host below a domain. */
    static Optional<String> siteBelow(AzureContext context, String domain) {
        return context.cloud().sites().stream()
                .filter(site ->
                        site.hosts().stream().anyMatch(host -> host.equals(domain) || host.endsWith("." + domain)))
                .map(WebSite::name)
                .findFirst();
    }
}
