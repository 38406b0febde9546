//! The interface, driven in a real browser.
