package warden.core.azure.trace;

import java.util.List;
import java.util.Optional;
import warden.core.access.Truth;
import warden.core.azure.account.BlobList;
import warden.core.azure.account.Container;
import warden.core.azure.account.Network;
import warden.core.azure.account.StorageAccount;
import warden.core.azure.account.WebHosting;
import warden.core.survey.Citation;
import warden.core.survey.Need;
import warden.core.survey.Reading;
import warden.core.trace.Journal;
import warden.core.trace.Outcome;
import warden.core.trace.OutcomeSet;
import warden.core.trace.Step.At;

/**
 * What a storage account's endpoints answer to somebody without credentials.
 *
 * <p>Source: Storage documentation, "Static website hosting in Azure Storage", "Configure anonymous read access for containers and blobs",
 * "Require secure transfer to ensure secure connections"; Blob service REST API, "Blob service error codes".
 */
final class StorageAnswer {
    static final String UPLOAD = "Upload it, or correct the address.";

    private final Journal journal;

    StorageAnswer(Journal journal) {
        this.journal = journal;
    }

    /**
     * A request as it comes to the account.
     *
     * @param host what is sent as the host
     * @param path decoded, with its leading slash
     * @param byPrivateLink true when it comes by a private way, which no network rule stops
     */
    record Arriving(
            StorageAccount account, boolean isWeb, String host, boolean secure, String path, boolean byPrivateLink) {}

    OutcomeSet to(Arriving request) {
        StorageAccount account = request.account();
        if (account.settings().isUnread()) {
            journal.step(At.BUCKET, "The storage account " + account.name() + " was not read.");
            journal.need(account.need("the account was not read"));
            journal.decides("");
            return OutcomeSet.anything();
        }
        boolean isOwnName = account.hosts().anyMatch(request.host()::equals)
                || account.customDomain().filter(request.host()::equals).isPresent();
        if (!isOwnName) {
            journal.step(
                    At.BUCKET,
                    "The request names the host " + request.host() + ", which the account " + account.name()
                            + " does not answer to.",
                    account.cite("customDomain"));
            journal.decides(
                    "Send the account's own host name as the host: set the origin host header, or register the host"
                            + " as the account's custom domain.");
            return OutcomeSet.of(Outcome.of(400));
        }
        if (!request.secure() && account.refusesPlainHttp() == Truth.TRUE) {
            journal.step(At.BUCKET, "The account refuses plain HTTP.", account.cite("supportsHttpsTrafficOnly"));
            journal.decides("Ask over HTTPS, or have the edge do so.");
            return OutcomeSet.of(Outcome.of(400));
        }
        OutcomeSet answer = admitted(request);
        if (!request.secure() && account.refusesPlainHttp() == Truth.UNKNOWN) {
            journal.need(account.need("whether it refuses plain HTTP is not in the answer"));
            answer = answer.or(OutcomeSet.of(Outcome.of(400)));
        }
        return answer;
    }

    private OutcomeSet admitted(Arriving request) {
        StorageAccount account = request.account();
        Network network = account.network();
        if (request.byPrivateLink() || network.reach() == Network.Reach.OPEN) {
            return answered(request);
        }
        boolean isDisabled = account.settings()
                .found()
                .flatMap(item -> item.text("publicNetworkAccess"))
                .filter("Disabled"::equals)
                .isPresent();
        if (network.reach() == Network.Reach.CLOSED && !network.hasPrivateEndpoints()) {
            journal.step(
                    At.BUCKET,
                    "The account's network rules let nobody in from the internet.",
                    account.cite(
                            isDisabled
                                    ? new String[] {"publicNetworkAccess"}
                                    : new String[] {"networkAcls", "defaultAction"}));
            journal.decides("Let the edge in by a private link, or open the account's network.");
            return OutcomeSet.of(Outcome.of(403));
        }
        if (network.reach() == Network.Reach.UNKNOWN) {
            journal.step(At.BUCKET, "The account's network rules were not read, or are not modelled.");
            journal.need(account.need("its network rules were not read, or are not modelled"));
            journal.decides("");
            return OutcomeSet.anything(answered(request));
        }
        journal.step(
                At.BUCKET,
                "The account's network rules let only some in; whether this caller is among them is not known.",
                account.cite("networkAcls", "defaultAction"));
        journal.need(new Need("storage-account", account.id(), "a caller's place is not known", ""));
        return OutcomeSet.of(Outcome.of(403)).or(answered(request));
    }

    private OutcomeSet answered(Arriving request) {
        OutcomeSet answer = request.isWeb()
                ? website(request.account().web(), request.path())
                : blobEndpoint(request.account(), request.path());
        if (request.path().contains("//")) {
            journal.need(new Need(
                    "container-blobs", request.account().id(), "how empty folder names are matched is not said", ""));
            return OutcomeSet.anything(answer);
        }
        return answer;
    }

    // --- web endpoint ---

    private OutcomeSet website(Container web, String path) {
        Reading<WebHosting> hosting = web.account().hosting();
        Truth on = hosting.found().map(WebHosting::enabled).orElse(Truth.UNKNOWN);
        if (on == Truth.UNKNOWN) {
            journal.step(At.WEBSITE, "Whether the website is on was not read.");
            journal.need(hosting.missing()
                    .orElse(new Need("static-website", web.id(), "whether it is on is not in the answer", "")));
            journal.decides("");
            return OutcomeSet.anything();
        }
        if (on == Truth.FALSE) {
            journal.step(At.WEBSITE, "The account's website is off, so no content is served.", hosting.citation());
            journal.decides("Switch the static website on.");
            return OutcomeSet.of(Outcome.of(404), Outcome.of(400));
        }
        if (web.settings().isAbsent()) {
            journal.step(
                    At.WEBSITE, "There is no container $web.", web.settings().citation());
            journal.decides("Make the container $web and upload the site.");
            return OutcomeSet.of(Outcome.of(404), Outcome.of(400));
        }
        WebHosting settings = hosting.found().orElseThrow();
        String name = path.startsWith("/") ? path.substring(1) : path;
        if (name.isEmpty()) {
            if (settings.root().isEmpty()) {
                journal.step(At.WEBSITE, "No index document is set, so the root has none.", hosting.citation());
                journal.decides("Set the name of the index document.");
                return notFound(web, settings);
            }
            return page(web, settings, settings.root().get());
        }
        if (name.endsWith("/")) {
            if (settings.index().isEmpty() && settings.defaultPath().isPresent()) {
                journal.step(
                        At.WEBSITE,
                        "What a folder shows without an index document for folders is not said.",
                        hosting.citation());
                journal.need(new Need("static-website", web.id(), "it is not documented", ""));
                journal.decides("");
                return OutcomeSet.anything();
            }
            return page(web, settings, name + settings.index().orElse(""));
        }
        return plain(web, settings, name);
    }

    private OutcomeSet page(Container web, WebHosting settings, String blob) {
        Truth there = web.blobs().has(blob);
        if (there == Truth.TRUE) {
            journal.step(At.WEBSITE, "The document " + blob + " is served.", citation(web, blob));
            return found(web, blob);
        }
        if (there == Truth.FALSE) {
            journal.step(
                    At.WEBSITE, "There is no blob " + blob + ".", web.blobs().at());
            journal.decides(UPLOAD);
            return notFound(web, settings);
        }
        journal.step(At.WEBSITE, "Whether there is a blob " + blob + " is not known.");
        web.blobs().open().ifPresent(journal::need);
        journal.decides("");
        return found(web, blob).or(notFound(web, settings));
    }

    private OutcomeSet plain(Container web, WebHosting settings, String name) {
        Truth there = web.blobs().has(name);
        if (there == Truth.TRUE) {
            return page(web, settings, name);
        }
        Optional<String> inFolder =
                settings.index().filter(index -> !index.isEmpty()).map(index -> name + "/" + index);
        Truth folder = inFolder.map(web.blobs()::has).orElse(Truth.FALSE);
        if (there == Truth.FALSE && folder == Truth.TRUE) {
            journal.step(
                    At.WEBSITE,
                    "There is no blob " + name + ", but " + inFolder.get()
                            + "; whether an address without its final slash shows that is not said.",
                    citation(web, inFolder.get()));
            journal.need(new Need("container-blobs", web.id(), "it is not documented", ""));
            journal.decides("Link to the address with its final slash.");
            return found(web, inFolder.get()).or(notFound(web, settings));
        }
        OutcomeSet answer = page(web, settings, name);
        return folder.isPossible() && inFolder.isPresent() && there != Truth.TRUE && folder != Truth.FALSE
                ? answer.or(found(web, inFolder.get()))
                : answer;
    }

    private static List<Citation> citation(Container web, String blob) {
        return web.blobs().blob(blob).map(BlobList.Blob::at).stream().toList();
    }

    private OutcomeSet found(Container web, String blob) {
        Optional<BlobList.Blob> known = web.blobs().blob(blob);
        Outcome shown = Outcome.of(200, web.blob(blob), blob, known.flatMap(each -> each.text("contentType")));
        if (known.flatMap(each -> each.text("accessTier"))
                .filter("Archive"::equals)
                .isPresent()) {
            journal.step(At.WEBSITE, "The blob " + blob + " is archived; what the endpoint says then is not certain.");
            journal.need(new Need("container-blobs", web.id(), "the answer for archived blobs is not documented", ""));
            journal.decides("Bring the blob back to an online tier.");
            return OutcomeSet.of(Outcome.of(409), Outcome.of(404));
        }
        return OutcomeSet.of(shown);
    }

    private OutcomeSet notFound(Container web, WebHosting settings) {
        Outcome own = Outcome.of(404);
        if (settings.error().isEmpty()) {
            journal.step(At.WEBSITE, "No error document is set, so the provider's own page is shown.");
            return OutcomeSet.of(own);
        }
        String document = settings.error().get();
        Truth there = web.blobs().has(document);
        Outcome shown = Outcome.of(
                404,
                web.blob(document),
                document,
                web.blobs().blob(document).flatMap(each -> each.text("contentType")));
        if (there == Truth.TRUE) {
            journal.step(
                    At.WEBSITE,
                    "The error document " + document + " is shown, with status 404.",
                    citation(web, document));
            return OutcomeSet.of(shown);
        }
        if (there == Truth.FALSE) {
            journal.step(
                    At.WEBSITE,
                    "The error document " + document + " does not exist either.",
                    web.blobs().at());
            return OutcomeSet.of(own);
        }
        web.blobs().open().ifPresent(journal::need);
        return OutcomeSet.of(shown, own);
    }

    // --- blob endpoint ---

    private OutcomeSet blobEndpoint(StorageAccount account, String path) {
        String name = path.startsWith("/") ? path.substring(1) : path;
        int slash = name.indexOf('/');
        String blob = slash < 0 ? "" : name.substring(slash + 1);
        if (blob.isEmpty() || blob.endsWith("/")) {
            journal.step(At.BUCKET, "The blob endpoint has no index document; this address names no blob.");
            journal.decides("Use the web endpoint as the origin.");
            return OutcomeSet.of(Outcome.of(404), Outcome.of(400));
        }
        Container container = account.container(name.substring(0, slash));
        Truth byAccount = account.allowsAnonymous();
        if (byAccount == Truth.FALSE) {
            journal.step(
                    At.BUCKET,
                    "The account lets no container be read anonymously.",
                    account.cite("allowBlobPublicAccess"));
            journal.decides("Serve the site by the web endpoint, which this setting does not concern.");
            return OutcomeSet.of(Outcome.of(409));
        }
        Truth open = container.isOpen();
        OutcomeSet refused = OutcomeSet.of(Outcome.of(404), Outcome.of(401));
        if (open == Truth.FALSE) {
            journal.step(
                    At.BUCKET,
                    "The container " + container.name() + " is private, or not there.",
                    container.citeLevel().or(() -> container.settings().citation()));
            journal.decides("Serve the site by the web endpoint.");
            return refused;
        }
        Truth there = container.blobs().has(blob);
        Outcome shown = Outcome.of(
                200,
                container.blob(blob),
                blob,
                container.blobs().blob(blob).flatMap(each -> each.text("contentType")));
        OutcomeSet readable =
                switch (there) {
                    case TRUE -> OutcomeSet.of(shown);
                    case FALSE -> OutcomeSet.of(Outcome.of(404));
                    case UNKNOWN -> OutcomeSet.of(shown, Outcome.of(404));
                };
        if (open == Truth.TRUE && byAccount == Truth.TRUE) {
            journal.step(
                    At.BUCKET,
                    there == Truth.TRUE
                            ? "The blob " + blob + " is read anonymously."
                            : there == Truth.FALSE
                                    ? "There is no blob " + blob + "."
                                    : "Whether there is a blob " + blob + " is not known.",
                    container.citeLevel());
            if (there != Truth.TRUE) {
                container.blobs().open().ifPresent(journal::need);
                journal.decides(there == Truth.FALSE ? UPLOAD : "");
            }
            return readable;
        }
        journal.step(At.BUCKET, "Whether the container " + container.name() + " can be read anonymously is not known.");
        if (byAccount == Truth.UNKNOWN) {
            journal.need(account.need("whether it allows open containers is not in the answer"));
        }
        if (open == Truth.UNKNOWN) {
            journal.need(container.need());
        }
        journal.decides("");
        return readable.or(refused).or(OutcomeSet.of(Outcome.of(409)));
    }
}
