/**
 * What the simulated clouds share: servers on loopback, certificates, requests and answers as they go over the wire, and misfortunes on demand. Who may
 * enter: the houses of the providers, and the command line.
 */
@NullMarked
package warden.standin;

import org.jspecify.annotations.NullMarked;
