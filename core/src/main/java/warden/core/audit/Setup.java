package warden.core.audit;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import warden.core.aws.power.Excess;
import warden.core.aws.power.Powers;
import warden.core.content.PublishedFolder;
import warden.core.pipeline.Deployments;
import warden.core.pipeline.NeededPermissions;
import warden.core.pipeline.UnreadPublisher;
import warden.core.site.Estate;
import warden.core.site.PossiblePublisher;
import warden.core.site.Publisher;
import warden.core.site.Publishers;
import warden.core.site.Site;

/** What checks look at, and what several of them ask about publishing credentials, worked out once. */
public final class Setup {
    private final Estate estate;
    private final Instant at;
    private final List<Publisher> publishers;
    private final List<PossiblePublisher> possiblePublishers;
    private final Deployments deployments;
    private final Optional<PublishedFolder> folder;
    private final Map<Site, List<Publisher>> publishersBySite = new HashMap<>();
    private @Nullable List<UnreadPublisher> unreadPublishers;
    private @Nullable Set<String> mayPublish;
    private final Map<String, Powers> powers = new ConcurrentHashMap<>();
    private final Map<String, NeededPermissions> needed = new ConcurrentHashMap<>();
    private final Map<String, Excess> excess = new ConcurrentHashMap<>();
    private final Map<Class<?>, List<?>> subjects = new HashMap<>();

    /**
     * Makes a set-up.
     *
     * @param at the instant as of which ages and expiries are judged
     * @param publishers the credentials that publish sites, and those that may
     * @param deployments the pipelines that are known, and what they publish
     * @param folder the folder that is about to be published; absent when none was given
     */
    public Setup(
            Estate estate,
            Instant at,
            Publishers publishers,
            Deployments deployments,
            Optional<PublishedFolder> folder) {
        this.estate = estate;
        this.at = at;
        this.publishers = publishers.known();
        this.possiblePublishers = publishers.possible();
        this.deployments = deployments;
        this.folder = folder;
        publishers.known().forEach(publisher -> publisher.sites().forEach(site -> publishersBySite
                .computeIfAbsent(site, key -> new ArrayList<>())
                .add(publisher)));
    }

    /**
     * Returns the things that a kind of checks asks of, listed once.
     *
     * @param kind the interface of the checks, or of the things
     */
    @SuppressWarnings("unchecked")
    public synchronized <S> List<S> subjects(Class<?> kind, Supplier<List<S>> listing) {
        // Listing one kind may take another's, so that nothing may be held while it works.
        List<?> known = subjects.get(kind);
        if (known == null) {
            known = listing.get();
            subjects.put(kind, known);
        }
        return (List<S>) known;
    }

    public Estate estate() {
        return estate;
    }

    public Instant at() {
        return at;
    }

    public List<Publisher> publishers() {
        return publishers;
    }

    /** Returns the credentials of which it is not known whether they publish sites. */
    public List<PossiblePublisher> possiblePublishers() {
        return possiblePublishers;
    }

    /** True for the ARNs of users and roles that publish, or may. */
    public boolean mayPublish(String arn) {
        return arnsThatMayPublish().contains(arn);
    }

    private synchronized Set<String> arnsThatMayPublish() {
        if (mayPublish == null) {
            mayPublish = Stream.of(
                            publishers.stream().map(Publisher::arn),
                            possiblePublishers.stream()
                                    .map(possible -> possible.publisher().arn()),
                            unreadPublishers().stream().map(UnreadPublisher::subject))
                    .flatMap(arns -> arns)
                    .collect(Collectors.toSet());
        }
        return mayPublish;
    }

    /** Returns the credentials that publish a site. */
    public List<Publisher> publishersOf(Site site) {
        return List.copyOf(publishersBySite.getOrDefault(site, List.of()));
    }

    public Deployments deployments() {
        return deployments;
    }

    public Optional<PublishedFolder> folder() {
        return folder;
    }

    /** Returns the credentials that publish, or may, and that were not read. */
    public synchronized List<UnreadPublisher> unreadPublishers() {
        if (unreadPublishers == null) {
            unreadPublishers = UnreadPublisher.find(estate, publishers, deployments);
        }
        return unreadPublishers;
    }

    /** Returns what a publisher's policies allow. */
    public Powers powers(Publisher publisher) {
        return powers.computeIfAbsent(
                publisher.arn(), arn -> new Powers(estate.reach(publisher.account()), publisher.principal()));
    }

    /** Returns what a publisher's deployments need. */
    public NeededPermissions needed(Publisher publisher) {
        return needed.computeIfAbsent(publisher.arn(), arn -> NeededPermissions.of(publisher, deployments));
    }

    /** Returns what a publisher is allowed beyond what its deployments need. */
    public Excess excess(Publisher publisher) {
        return excess.computeIfAbsent(
                publisher.arn(),
                arn -> Excess.of(publisher, powers(publisher), needed(publisher).needed()));
    }
}
