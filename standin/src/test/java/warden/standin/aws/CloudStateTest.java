package warden.standin.aws;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import warden.core.aws.account.Account;
import warden.core.aws.storage.Bucket;
import warden.core.aws.storage.ObjectListing;
import warden.core.document.JsonPart;
import warden.core.document.JsonReader;

class CloudStateTest {
    private static final String QUAY = "arn:aws:s3:::quay";
    private static final String SURVEY = String.join(
                    "\n",
                    "{'survey':1,'provider':'aws','account':'210987654321'}",
                    "{'aspect':'bucket-list','of':'210987654321','found':{'Buckets':[{'Name':'quay'},{'Name':'pier'}]}}",
                    "{'aspect':'bucket-policy','of':'arn:aws:s3:::quay','found':{'Policy':{'Statement':[]}}}",
                    "{'aspect':'bucket-policy','of':'arn:aws:s3:::pier','found':{'Policy':{'Statement':[]}}}",
                    "{'aspect':'bucket-objects','of':'arn:aws:s3:::quay','found':{'Contents':[{'Key':'a.html','Size':1}],'IsTruncated':false}}",
                    "{'aspect':'object','of':'arn:aws:s3:::quay/a.html','found':{'CacheControl':'no-cache'}}",
                    "{'aspect':'object-acl','of':'arn:aws:s3:::quay/a.html','found':{'Grants':[]}}",
                    "{'aspect':'iam-role','of':'arn:aws:iam::210987654321:role/web','found':{'RoleName':'web'}}",
                    "")
            .replace('\'', '"');

    private final CloudState state;

    CloudStateTest() throws Exception {
        state = CloudState.parse(SURVEY, "quay.ndjson", new ObjectStore((bucket, key) -> Optional.empty(), null));
    }

    private void store(String arn, String key) {
        JsonPart entry =
                JsonReader.read("{\"Key\":\"" + key + "\",\"Size\":3}").root().orElseThrow();
        JsonPart head =
                JsonReader.read("{\"CacheControl\":\"max-age=60\"}").root().orElseThrow();
        state.objects()
                .put(arn, new StoredObject(key, entry, head, null, StoredObject.ONLY, false, Map.of(), List.of()));
        state.stored(arn, key, "");
    }

    private void remove(String arn, String key) {
        state.objects().remove(arn, key, StoredObject.ONLY);
        state.removed(arn, key);
    }

    /** Returns the account as a visitor of its sites finds it. */
    private Account seen() {
        return state.cloud().accounts().get(0);
    }

    @Test
    void anUploadDropsNeitherTheAccountNorThePolicies() {
        Account before = state.account();
        Bucket quay = before.bucket("quay");
        assertThat(quay.objects().found().map(ObjectListing::keys).orElseThrow())
                .containsExactly("a.html");
        var policy = quay.policy();
        var other = before.bucket("pier");
        var roles = before.directory().principals();

        store(QUAY, "b.html");
        Account after = seen();
        assertThat(after.bucket("quay").policy()).isSameAs(policy);
        assertThat(after.bucket("pier")).isSameAs(other);
        assertThat(after.directory().principals()).isSameAs(roles);
        agrees(after);
        assertThat(after.bucket("quay").head("b.html").orElseThrow().found())
                .hasValueSatisfying(head -> assertThat(head.cacheControl()).contains("max-age=60"));
        assertThat(before.bucket("quay").head("b.html")).isEmpty();
    }

    @Test
    void whatIsOverwrittenOrRemovedIsKnownAtOnce() {
        state.account().bucket("quay").objectAccessList("a.html");
        store(QUAY, "a.html");
        agrees(seen());
        assertThat(seen().bucket("quay").head("a.html").orElseThrow().found())
                .hasValueSatisfying(head -> assertThat(head.cacheControl()).contains("max-age=60"));
        remove(QUAY, "a.html");
        agrees(seen());
        assertThat(seen().bucket("quay").head("a.html")).isEmpty();
        assertThat(seen().bucket("quay").objectAccessList("a.html")).isEmpty();
        store("arn:aws:s3:::pier", "c.html");
        agrees(seen());
        remove("arn:aws:s3:::elsewhere", "c.html");
        agrees(seen());
    }

    /** The account that was kept says the same as one that is parsed anew. */
    private void agrees(Account kept) {
        Account fresh = new Account(state.survey());
        for (String name : new String[] {"quay", "pier"}) {
            assertThat(kept.bucket(name).objects().found().map(ObjectListing::keys))
                    .isEqualTo(fresh.bucket(name).objects().found().map(ObjectListing::keys));
            assertThat(kept.bucket(name).keysWith("object"))
                    .containsExactlyInAnyOrderElementsOf(fresh.bucket(name).keysWith("object"));
            assertThat(kept.bucket(name).keysWith("object-acl"))
                    .isEqualTo(fresh.bucket(name).keysWith("object-acl"));
        }
        assertThat(kept.survey().subjects("bucket-objects"))
                .containsExactlyElementsOf(fresh.survey().subjects("bucket-objects"));
    }
}
