package warden.standin.azure;

import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.MessageDigest;
import java.util.Base64;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;

/** The made-up keys of simulated storage accounts. No survey holds a real one. */
final class AccountKeys {
    private AccountKeys() {}

    /** Returns an account's only key, in base 64, made from the account's id. */
    static String of(String accountId) {
        try {
            byte[] key = MessageDigest.getInstance("SHA-512")
                    .digest(("made up: " + warden.core.azure.account.ResourceId.key(accountId))
                            .getBytes(StandardCharsets.UTF_8));
            return Base64.getEncoder().encodeToString(key);
        } catch (GeneralSecurityException impossible) {
            throw new IllegalStateException(impossible);
        }
    }

    /** Returns the signature of a text by an account's key. */
    static String signature(String accountId, String text) {
        return signatureBy(of(accountId), text);
    }

    /**
     * Returns the signature of a text by any key.
     *
     * @param key in base 64
     */
    static String signatureBy(String key, String text) {
        try {
            Mac mac = Mac.getInstance("HmacSHA256");
            mac.init(new SecretKeySpec(Base64.getDecoder().decode(key), "HmacSHA256"));
            return Base64.getEncoder().encodeToString(mac.doFinal(text.getBytes(StandardCharsets.UTF_8)));
        } catch (GeneralSecurityException impossible) {
            throw new IllegalStateException(impossible);
        }
    }

    /** True where the signature is the account's, compared without telling by the time taken how much of it is right. */
    static boolean isSigned(String accountId, String text, String signature) {
        return isSignedBy(of(accountId), text, signature);
    }

    /** As {@link #isSigned}, by any key in base 64. */
    static boolean isSignedBy(String key, String text, String signature) {
        return MessageDigest.isEqual(
                signatureBy(key, text).getBytes(StandardCharsets.UTF_8), signature.getBytes(StandardCharsets.UTF_8));
    }
}
