window.petalgrid = { matched: document.cookie.length % 7 };
