"""Which of what is mounted a person may have stills on."""

from yarnkite.core.gather.disks import Disk, disks_in

# As kernels write it: id, parent, device, root, mount point, options, optional fields, a dash, kind, source, options.
TABLE = r"""
22 28 0:21 / /sys rw,nosuid shared:7 - sysfs sysfs rw
23 28 0:22 / /proc rw,nosuid shared:12 - proc proc rw
28 1 259:2 / / rw,relatime shared:1 - ext4 /dev/nvme0n1p2 rw
29 28 259:1 / /boot/efi rw,relatime shared:60 - vfat /dev/nvme0n1p1 rw
31 28 259:3 / /home rw,relatime shared:62 - ext4 /dev/nvme0n1p3 rw
40 28 7:1 / /snap/tool/12 ro,nodev shared:90 - squashfs /dev/loop1 ro
51 28 8:17 / /media/kit/LANTERN\040ONE rw,nosuid shared:300 - exfat /dev/sdb1 rw
52 28 0:60 / /mnt/studio rw,relatime - nfs4 depot:/stills rw
53 28 8:33 / /run/media/kit/Marrow\134B rw shared:310 - vfat /dev/sdc1 rw
54 28 0:61 / /run/lock rw - tmpfs tmpfs rw
55 28 259:2 /srv/reach /srv/stills rw,relatime shared:1 - ext4 /dev/nvme0n1p2 rw
56 28 8:49 / /mnt/covered rw - ext4 /dev/sdd1 rw
57 56 0:62 / /mnt/covered rw - tmpfs tmpfs rw
58 28 0:63 / /var/lib/store rw - ext4 /dev/sde1 rw
"""


def test_cards_disks_and_shares_are_found_and_the_system_is_not():
    assert [(disk.name, str(disk.folder)) for disk in disks_in(TABLE)] == [
        ("LANTERN ONE", "/media/kit/LANTERN ONE"),
        ("studio", "/mnt/studio"),
        ("Marrow\\B", "/run/media/kit/Marrow\\B"),
        ("stills", "/srv/stills"),
    ]


def test_a_table_that_is_broken_off_gives_what_it_holds():
    assert disks_in("") == ()
    assert disks_in("51 28 8:17 / /media/a rw") == ()
    whole = "51 28 8:17 / /media/a rw - vfat /dev/sdb1 rw\n52 28 8:1"
    (only,) = disks_in(whole)
    assert isinstance(only, Disk)
    assert only.name == "a"
